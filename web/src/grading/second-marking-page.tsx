import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Empty, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { amount, figure, percent } from "../ui/words";
import { SecondPlan } from "./second-marking-plan";
import { useTitle } from "./use-title";

type Figures = Schemas["AgreementLine"];
type Question = Schemas["QuestionCompared"];

/** The second marker: on the left how far two markers agree, on the right which answers are read twice. */
export function SecondPage() {
  const sittingId = Number(useParams().sittingId);
  const path = { sitting_id: sittingId };
  const client = useQueryClient();
  const title = useTitle(sittingId);
  const key = ["second", sittingId];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/marking/second", { params: { path } })),
    refetchInterval: 10_000,
  });
  const told = () => {
    void changed(client, "marks");
  };
  const plan = useMutation({
    mutationFn: (body: Schemas["SecondBody"]) =>
      read(api.PUT("/api/v1/sittings/{sitting_id}/marking/second", { params: { path }, body })),
    onSuccess: told,
  });
  const end = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/sittings/{sitting_id}/marking/second", { params: { path } })),
    onSuccess: told,
  });
  const page = found.data;
  const compared = page?.questions.filter((question) => question.whole.answers > 0) ?? [];
  return (
    <Page
      title={t`A second marker`}
      of={title}
      facts={page?.says}
      actions={
        <>
          {page && page.second_left > 0 && (
            <ButtonLink variant="main" to={`/marking/${sittingId}?reading=second`}>
              {t`Give second marks: ${page.second_left}`}
            </ButtonLink>
          )}
          {page && page.agree_left > 0 && (
            <ButtonLink variant="main" to={`/marking/${sittingId}?reading=agreed`}>
              {t`Agree on ${page.agree_left}`}
            </ButtonLink>
          )}
          <ButtonLink to={`/marking/${sittingId}`}>{t`First marks`}</ButtonLink>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`How they agree`, right: t`Which answers` }}
        left={
          <>
            <Problem error={found.error ?? plan.error ?? end.error} />
            {page && compared.length === 0 && (
              <Empty
                title={page.plan ? t`No answer has two marks yet.` : t`One marker so far.`}
                action={
                  page.plan && (
                    <ButtonLink
                      variant="main"
                      to={`/marking/${sittingId}?reading=second`}
                    >{t`Give second marks`}</ButtonLink>
                  )
                }
              >
                {page.plan
                  ? t`A colleague who may mark this class finds them under Marking; or read them again yourself on another evening. Neither sees what the other gave.`
                  : t`Say on the right which answers are read twice. Both marks are given blind; where they are too far apart, you agree on one.`}
              </Empty>
            )}
            {compared.map((one) => (
              <Compared key={one.ref} one={one} />
            ))}
          </>
        }
        right={
          page && (
            <Region name={t`Which answers are read twice`} remark={page.plan ? undefined : t`none so far`}>
              <SecondPlan
                key={page.plan ? "changed" : "new"}
                plan={page.plan}
                busy={plan.isPending}
                onPlan={(body) => plan.mutate(body)}
              />
              {page.plan && (
                <p className="mt-6 text-sm text-graphite">
                  <AskFirst
                    name={t`End it: the first marks count alone`}
                    title={t`End the second marking?`}
                    says={t`From then on every total is made of the first marks alone, also where two marks had been agreed on. Who has seen their result may see another one.`}
                    does={t`End it`}
                    onSure={() => end.mutate()}
                    busy={end.isPending}
                  />
                  <span className="block">{t`Second marks stay in the history and come back with a new plan.`}</span>
                </p>
              )}
            </Region>
          )
        }
      />
    </Page>
  );
}

/** Fleiss’s words for a kappa. */
const inWords = (kappa: number) => (kappa < 0.4 ? t`poor` : kappa <= 0.75 ? t`fair to good` : t`excellent`);

function opening(one: Question): string {
  const { exact, adjacent, difference, kappa, answers } = one.whole;
  const same = t`Of ${plural(answers, { one: "# answer", other: "# answers" })} with two marks ${percent(exact)} have the same, ${percent(adjacent)} within a point.`;
  const harsh =
    difference === null || Math.abs(difference) < 0.05
      ? t`Neither is the harsher.`
      : difference < 0
        ? t`The second gives ${amount(-difference)} points less on average.`
        : t`The second gives ${amount(difference)} points more on average.`;
  const beyond = kappa ? t` Beyond chance that is ${inWords(kappa.value)}.` : "";
  return `${same} ${harsh}${beyond}`;
}

function Compared({ one }: { one: Question }) {
  return (
    <Region
      name={t`Question ${one.number}`}
      remark={t`${plural(one.whole.answers, { one: "# answer", other: "# answers" })} with two marks`}
    >
      <p className="my-3 font-serif text-lg leading-snug">{opening(one)}</p>
      <Table
        caption={t`Agreement on question ${one.number}`}
        heads={[
          { label: t`Criterion` },
          { label: t`Same`, right: true },
          { label: t`Within 1`, right: true },
          { label: t`Second less first`, right: true },
          { label: t`Kappa`, right: true },
          { label: "ICC", right: true },
          { label: t`Alpha`, right: true },
        ]}
      >
        {[...one.criteria, one.whole].map((line) => (
          <Line key={line.name} line={line} />
        ))}
      </Table>
      <p className="mt-1 text-xs text-graphite">{t`Kappa with quadratic weights and ICC(2,1), each with its 95% interval; alpha is Krippendorff’s, for intervals. One means full agreement, 0 no more than chance.`}</p>
      {one.markers.some((who) => who.severity !== null) && (
        <p className="mt-3 text-sm">
          {one.markers
            .map(
              (who) =>
                `${who.name}: ${plural(who.marks, { one: "# mark", other: "# marks" })}, ${severityWords(who.severity)}`,
            )
            .join(". ")}
          .
        </p>
      )}
    </Region>
  );
}

const severityWords = (points: number | null) =>
  points === null || Math.abs(points) < 0.05
    ? t`neither harsh nor mild`
    : points > 0
      ? t`${amount(points)} points harsher than the middle of all`
      : t`${amount(-points)} points milder than the middle of all`;

function Line({ line }: { line: Figures }) {
  const estimate = (name: "kappa" | "icc") => {
    const one = line[name];
    return one ? (
      <>
        {figure(one.value)}
        {one.low < one.high && (
          <span className="ms-1.5 text-graphite">{t`${figure(one.low)} to ${figure(one.high)}`}</span>
        )}
      </>
    ) : (
      <span title={line.reasons[name]}>–</span>
    );
  };
  return (
    <Row>
      <Cell>{line.name}</Cell>
      <Cell right>{percent(line.exact)}</Cell>
      <Cell right>{percent(line.adjacent)}</Cell>
      <Cell right>{amount(line.difference)}</Cell>
      <Cell right>{estimate("kappa")}</Cell>
      <Cell right>{estimate("icc")}</Cell>
      <Cell right>{line.alpha === null ? <span title={line.reasons.alpha}>–</span> : figure(line.alpha)}</Cell>
    </Row>
  );
}
