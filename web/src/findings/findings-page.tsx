import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { useNudges } from "../api/nudges";
import { Button, ButtonLink } from "../ui/button";
import { Choice } from "../ui/field";
import { Hint } from "../ui/hint";
import { KeptViews } from "../ui/kept-views";
import { useKeys } from "../ui/keys";
import { NoPage } from "../ui/no-page";
import { SaveView } from "../ui/save-view";
import { Empty, Page, SplitPage } from "../ui/split-page";
import { amount, figure, questionName, whenOf } from "../ui/words";
import { ChangeAndSee, SeenOtherwise } from "./analysis-filter";
import { GroupsView } from "./groups/groups";
import { IdeasView } from "./ideas/ideas";
import { ItemMap } from "./item_map/item-map";
import { OtherSittings } from "./other_sittings/other-sittings";
import { AnnotatedPaper } from "./paper/annotated-paper";
import { Question } from "./question/question";
import { asideOf } from "./question/set-aside";
import { ScaleView } from "./scale/scale";
import { StudentTable } from "./students/student-table";
import { Summary } from "./summary/summary";
import { TimeView } from "./time/time";
import { TotalsView } from "./totals/totals";
import { WholeTest } from "./totals/whole-test";
import { useScope } from "./use-analysis-filter";
import { type View, ViewsNav, viewOf } from "./views-nav";

type Body = Schemas["FindingsPageBody"];

/** Item analysis: the paper itself, annotated, and what one learns about the chosen question. */
export function FindingsPage() {
  const sittingId = Number(useParams().sittingId);
  const client = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const which = search.get("which") === "last" ? "last" : "first";
  const view = viewOf(search.get("view"));
  const { query, key: scope, changed } = useScope();
  const key = ["findings", sittingId];
  const found = useQuery({
    queryKey: [...key, which, scope],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/findings", {
          params: { path: { sitting_id: sittingId }, query: { ...query, which } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const running = found.data?.sitting.state === "open" || found.data?.sitting.state === "paused";
  useNudges(running ? `/ws/sittings/${sittingId}` : null, () => client.invalidateQueries({ queryKey: key }));
  if (!found.data)
    return (
      <Page title={t`Findings`}>
        <NoPage error={found.error} />
        {changed && found.error && (
          <div className="px-6 py-2">
            <ButtonLink to={`/findings/${sittingId}`} variant="main">{t`The sitting as it is`}</ButtonLink>
          </div>
        )}
      </Page>
    );
  const { sitting, body } = found.data;
  if (!body) {
    return (
      <Page title={sitting.title} facts={sitting.class_name}>
        <div className="px-6">
          <Empty
            title={t`No answers are counted yet.`}
            action={
              found.data.places > 0 ? (
                <ButtonLink to={`/sittings/queries?sitting=${sitting.id}`} variant="main">{t`Settle them`}</ButtonLink>
              ) : (
                <ButtonLink to={`/sittings/${sitting.id}`} variant="main">{t`Watch the sitting`}</ButtonLink>
              )
            }
          >
            {found.data.places > 0
              ? t`${plural(found.data.places, { one: "# place", other: "# places" })} on scanned sheets wait to be settled; a student counts once all of theirs are.`
              : sitting.working > 0
                ? t`${sitting.working} students are at work. An answer counts when its student has handed in, or when you close the sitting.`
                : t`Nobody has handed in.`}
          </Empty>
        </div>
      </Page>
    );
  }
  const aside = found.data.dismissed;
  const standing = { ...body, flags: body.flags.filter((flag) => !asideOf(flag, aside)) };
  if (view !== "paper") return <Look page={found.data} body={standing} view={view} />;
  return (
    <Annotated
      key={`${sittingId} ${search.get("question")}`}
      begin={Number(search.get("question")) || null}
      page={found.data}
      body={standing}
      setAside={body.flags.filter((flag) => asideOf(flag, aside))}
      which={which}
      onWhich={(next) => setSearch(next === "last" ? { which: next } : {}, { replace: true })}
    />
  );
}

/** Where the server makes files of a look, with the figures that its address asks for. */
function useFile(sittingId: number, view: View) {
  const { query } = useScope();
  const [search] = useSearchParams();
  const kept = ["which", "by", "against", "cuts"].flatMap((name) => {
    const value = search.get(name);
    return value ? [[name, value]] : [];
  });
  if (search.get("key")) kept.push(["one_key", "true"]);
  const figures = Object.entries(query).map(([name, value]) => [name, String(value)]);
  return (form: string) =>
    `/api/v1/sittings/${sittingId}/findings/${view}.${form}?${new URLSearchParams([...figures, ...kept])}`;
}

type LookProps = { page: Schemas["FindingsPage"]; body: Body; view: Exclude<View, "paper"> };

/** The other looks, each of which is saved as a picture and as a table. */
function Look({ page, body, view }: LookProps) {
  const { sitting } = page;
  const part = useRef<HTMLDivElement>(null);
  const looks: Record<typeof view, ReactNode> = {
    ideas: <IdeasView sittingId={sitting.id} body={body} />,
    map: <ItemMap sittingId={sitting.id} body={body} />,
    table: <StudentTable sittingId={sitting.id} />,
    totals: <TotalsView sittingId={sitting.id} />,
    scale: <ScaleView sittingId={sitting.id} />,
    groups: <GroupsView sittingId={sitting.id} classId={sitting.class_id} />,
    summary: <Summary sittingId={sitting.id} body={body} />,
    time: <TimeView sittingId={sitting.id} body={body} />,
    "other-sittings": <OtherSittings sittingId={sitting.id} />,
  };
  const file = useFile(sitting.id, view);
  return (
    <Page
      title={sitting.title}
      facts={
        page.seen
          ? plural(body.test.students, { one: "# student", other: "# students" })
          : t`${sitting.class_name} · ${body.test.students} of ${sitting.seats}`
      }
      actions={
        <>
          {view !== "other-sittings" && <ChangeAndSee page={page} />}
          <KeptViews />
          <SaveView name={`${sitting.title}, ${view}`} of={part} charted file={file} />
        </>
      }
    >
      <ViewsNav sittingId={sitting.id} classId={sitting.class_id} view={view} />
      {view !== "other-sittings" && <SeenOtherwise seen={page.seen} />}
      <div ref={part} className="flex min-h-0 flex-1 flex-col">
        {looks[view]}
      </div>
    </Page>
  );
}

type Which = "first" | "last";
type AnnotatedProps = {
  /** The question to show first; else what to do about the whole test. */
  begin: number | null;
  page: Schemas["FindingsPage"];
  body: Body;
  setAside: Schemas["FlagNote"][];
  which: Which;
  onWhich: (which: Which) => void;
};

function Annotated({ begin, page, body, setAside, which, onWhich }: AnnotatedProps) {
  const part = useRef<HTMLDivElement>(null);
  const { changed } = useScope();
  const file = useFile(page.sitting.id, "paper");
  const looks = [...new Set(body.flags.filter((flag) => flag.urgent).map((flag) => flag.number))];
  const [number, setNumber] = useState<number | null>(begin);
  const { sitting } = page;
  const place = looks.indexOf(number ?? -1);
  const go = (by: number) => {
    // From the whole test, forward is the first of them and back the last.
    const at = place < 0 && by < 0 ? looks.length - 1 : place + by;
    const next = looks[(at + looks.length) % looks.length];
    if (next !== undefined) setNumber(next);
  };
  useKeys({ j: () => go(1), k: () => go(-1), w: () => setNumber(null) });
  useEffect(() => {
    if (number) document.getElementById(`question-${number}`)?.scrollIntoView({ block: "nearest" });
  }, [number]);
  const question = body.paper.find((line) => line.number === number);
  const toMark = body.paper.reduce((sum, line) => sum + line.waiting, 0);
  return (
    <Page
      title={sitting.title}
      facts={
        <>
          {sitting.class_name} · {sitting.closed_at ? t`sat ${whenOf(sitting.opened_at ?? sitting.closed_at)} · ` : ""}
          {page.partial ? (
            <span className="text-ochre">{t`◐ partial: ${body.test.students} of ${sitting.seats} handed in`}</span>
          ) : page.seen ? (
            plural(body.test.students, { one: "# student", other: "# students" })
          ) : (
            t`${body.test.students} of ${sitting.seats}`
          )}
          {toMark > 0 && (
            <Link to={`/marking/${sitting.id}`} className="ms-2 text-plum underline underline-offset-2">
              {page.names_hidden
                ? t`marks count once the names are shown`
                : t`${plural(toMark, { one: "# answer", other: "# answers" })} to mark`}
            </Link>
          )}
          {page.places > 0 && (
            <Link
              to={`/sittings/queries?sitting=${sitting.id}`}
              className="ms-2 text-ochre underline underline-offset-2"
            >
              {t`${plural(page.places, { one: "# place", other: "# places" })} on sheets to settle`}
            </Link>
          )}
        </>
      }
      actions={
        <>
          <TestFigures test={body.test} reasons={body.reasons} />
          {page.asked_again && !changed && (
            <Choice
              low
              className="w-auto!"
              aria-label={t`Which answers`}
              value={which}
              onChange={(event) => onWhich(event.target.value as Which)}
            >
              <option value="first">{t`first answers`}</option>
              <option value="last">{t`last answers`}</option>
            </Choice>
          )}
          {sitting.in_the_room && <ButtonLink to={`/sittings/${sitting.id}/rounds`}>{t`Round by round`}</ButtonLink>}
          <ChangeAndSee page={page} />
          <SaveView name={t`${sitting.title}, paper`} of={part} file={file} />
          <Button
            variant={number === null ? "main" : "plain"}
            keyHint="W"
            onClick={() => setNumber(null)}
            aria-pressed={number === null}
          >{t`Whole test`}</Button>
        </>
      }
    >
      <ViewsNav sittingId={sitting.id} classId={sitting.class_id} view="paper" />
      <SeenOtherwise seen={page.seen} />
      <div ref={part} className="flex min-h-0 flex-1 flex-col">
        <SplitPage
          split="even"
          names={{ left: t`The paper`, right: question ? questionName(question.label) : t`The whole test` }}
          left={<AnnotatedPaper body={body} namesHidden={page.names_hidden} chosen={number} onChoose={setNumber} />}
          right={
            question ? (
              <Question
                sittingId={sitting.id}
                testId={sitting.test}
                key={question.number}
                question={question}
                flags={body.flags.filter((flag) => flag.number === question.number)}
                setAside={setAside.filter((flag) => flag.number === question.number)}
                dismissed={page.dismissed}
                students={page.students}
                asked={body.paper.map((line) => line.ref)}
                looks={looks}
                onNext={() => go(1)}
                reasons={body.reasons}
              />
            ) : (
              <WholeTest page={page} body={body} onChoose={setNumber} />
            )
          }
        />
      </div>
    </Page>
  );
}

/** Mean, spread, reliability and measurement error, each with its meaning at hand. */
function TestFigures({ test, reasons }: { test: Schemas["TestFigures"]; reasons: Record<string, string> }) {
  const figures = [
    { name: t`mean`, value: amount(test.mean), after: t` of ${test.max}`, says: t`Average of the totals.` },
    {
      name: t`sd`,
      value: amount(test.sd),
      after: "",
      says: reasons["test.sd"] ?? t`How far totals lie from the mean, typically.`,
    },
    {
      name: "α",
      value: figure(test.alpha),
      after: test.alpha === null ? "" : t` (${figure(test.alpha_low)} to ${figure(test.alpha_high)})`,
      says:
        reasons["test.alpha"] ??
        t`Coefficient alpha: how well the questions agree on who is strong. The true value lies between the two in brackets.`,
    },
    {
      name: "±",
      value: amount(test.sem),
      after: "",
      says:
        reasons["test.sem"] ??
        t`Standard error of measurement: two thirds of students would come out within this many marks if they sat a like test again.`,
    },
  ];
  return (
    <div className="flex flex-wrap gap-x-3 text-sm text-graphite">
      {figures.map(({ name, value, after, says }) => (
        <Hint key={name} says={says}>
          {name} <strong className="text-ink">{value}</strong>
          {after}
        </Hint>
      ))}
    </div>
  );
}
