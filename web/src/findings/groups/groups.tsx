import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, read, type Schemas } from "../../api/client";
import { ButtonLink } from "../../ui/button";
import { DifferencesChart } from "../../ui/charts/differences-chart";
import { Choice, Problem } from "../../ui/field";
import { useInAddress } from "../../ui/in-address";
import { Empty, Opening, Region, SplitPage } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { amount, percent, questionName } from "../../ui/words";
import { useScope } from "../use-analysis-filter";

type Page = Schemas["GroupsPage"];
const CLASSES = { A: t`A, negligible`, B: t`B, moderate`, C: t`◆ C, differs by group` } as const;

/** One group of the class beside the others, question by question. */
export function GroupsView({ sittingId, classId }: { sittingId: number; classId: number }) {
  const { query, key } = useScope();
  const [by, setBy] = useInAddress("by", "");
  const found = useQuery({
    queryKey: ["findings", sittingId, "groups", key, by],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/findings/compared", {
          params: { path: { sitting_id: sittingId }, query: { ...query, by } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  if (!page?.compared)
    return (
      <div className="px-6 py-4">
        <Problem error={found.error} />
        {page && (
          <Empty
            title={t`There is nothing to compare yet.`}
            action={<ButtonLink to={`/classes/${classId}`} variant="main">{t`Make a group of the class`}</ButtonLink>}
          >{t`Groups of the class, forms of the paper and sittings put together can be set beside each other. This class has no group yet, and all had the same form.`}</Empty>
        )}
      </div>
    );
  return <Compared page={page} compared={page.compared} sittingId={sittingId} onChoose={setBy} />;
}

type ComparedProps = {
  page: Page;
  compared: Schemas["GroupsCompared"];
  sittingId: number;
  onChoose: (key: string) => void;
};

function Compared({ page, compared, sittingId, onChoose }: ComparedProps) {
  const rows = compared.items.map((item) => ({ ...item, label: page.labels[item.id] ?? item.id }));
  return (
    <SplitPage
      split="even"
      names={{ left: t`Two groups`, right: t`Question by question` }}
      left={
        <>
          <Choice
            low
            className="mb-3 w-auto!"
            aria-label={t`Which group`}
            value={page.chosen}
            onChange={(event) => onChoose(event.target.value)}
          >
            {page.choices.map((choice) => (
              <option key={choice.key} value={choice.key}>
                {`${choice.name}: ${plural(choice.students, { one: "# student", other: "# students" })}`}
              </option>
            ))}
          </Choice>
          <Opening>{page.opening}</Opening>
          {compared.warning && <p className="mb-3 text-ochre">◐ {compared.warning}</p>}
          <DifferencesChart rows={rows} first={compared.first} second={compared.second} />
        </>
      }
      right={
        <Region name={t`Question by question`}>
          <Table
            caption={t`${compared.first} and ${compared.second}, question by question`}
            heads={[
              { label: t`Question` },
              { label: compared.first, right: true },
              { label: compared.second, right: true },
              { label: t`Difference`, right: true },
              { label: t`At the same total` },
            ]}
          >
            {rows.map((row) => (
              <Row key={row.id} selected={row.letter === "C"}>
                <Cell>
                  <Link to={`/findings/${sittingId}?question=${page.numbers[row.id]}`}>{questionName(row.label)}</Link>
                </Cell>
                <Cell right>{percent(row.first)}</Cell>
                <Cell right>{percent(row.second)}</Cell>
                <Cell right>
                  {points(row.difference)}
                  <span className="block text-xs text-graphite">{t`${points(row.low)} to ${points(row.high)}`}</span>
                </Cell>
                <Cell>
                  {row.letter ? (
                    <span className={row.letter === "C" ? "font-semibold text-clay" : "text-graphite"}>
                      {CLASSES[row.letter]}
                    </span>
                  ) : (
                    <span className="text-graphite">{t`cannot be said`}</span>
                  )}
                  {row.delta !== null && (
                    <span className="block text-xs text-graphite">{t`delta ${amount(row.delta)}`}</span>
                  )}
                </Cell>
              </Row>
            ))}
          </Table>
          <p className="mt-1 text-xs text-graphite">{t`Difference in percentage points with its 95% interval. At the same total: whether a question is harder for one group than for equally strong students of the other (Mantel–Haenszel); delta below 0 is harder for ${compared.second}.`}</p>
        </Region>
      }
    />
  );
}

const points = (share: number | null) => (share === null ? "–" : amount(100 * share, 0));
