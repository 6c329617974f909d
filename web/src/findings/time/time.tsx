import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../../api/client";
import { TimesChart } from "../../ui/charts/times-chart";
import { Problem } from "../../ui/field";
import { Empty, Opening, Region, SplitPage } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { durationOf, percent } from "../../ui/words";
import { useScope } from "../use-analysis-filter";

/** How long the questions took. */
function useTime(sittingId: number) {
  const { query, key } = useScope();
  return useQuery({
    queryKey: ["findings", sittingId, "time", key],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/findings/time", { params: { path: { sitting_id: sittingId }, query } }),
      ),
    placeholderData: keepPreviousData,
  });
}

type Props = { sittingId: number; body: Schemas["FindingsPageBody"] };

/** The questions by how long they took, beside how much came of it. */
export function TimeView({ sittingId, body }: Props) {
  const found = useTime(sittingId);
  const page = found.data;
  if (!page)
    return (
      <div className="px-6 py-4">
        <Problem error={found.error} />
      </div>
    );
  const { items, test, longest } = page.figures;
  if (test.median === null)
    return (
      <div className="px-6 py-4">
        <Empty title={t`Nobody's time is known.`}>
          {t`${page.opening} Answers from paper, from pads or cards of one's own pace, and from a paper shown all at once have none.`}
        </Empty>
      </div>
    );
  const share = Object.fromEntries(body.paper.map((one) => [one.ref, one.figures?.p ?? null]));
  return (
    <SplitPage
      split="even"
      names={{ left: t`Time on each question`, right: t`In figures` }}
      left={
        <>
          <Opening>{page.opening}</Opening>
          <TimesChart
            rows={items.map((item) => ({ ...item, label: page.labels[item.id] ?? "", lit: longest.includes(item.id) }))}
          />
          <p className="mt-1 text-xs text-graphite">{t`The bar is the middle half of the class, the stroke its median; in plum, those that took longest.`}</p>
        </>
      }
      right={
        <Region
          name={t`${plural(test.students, { one: "# student", other: "# students" })}, ${durationOf(test.median)} in the middle`}
        >
          <Table
            caption={t`Time on each question`}
            heads={[
              { label: t`Question` },
              { label: t`Median`, right: true },
              { label: t`Middle half`, right: true },
              { label: t`Who has it right`, right: true },
              { label: t`The others`, right: true },
              { label: t`Of the marks`, right: true },
            ]}
          >
            {items.map((item) => (
              <Row key={item.id} selected={longest.includes(item.id)}>
                <Cell>{page.labels[item.id]}</Cell>
                <Cell right>{durationOf(item.median)}</Cell>
                <Cell right>{item.q1 === null ? "–" : t`${durationOf(item.q1)} to ${durationOf(item.q3)}`}</Cell>
                <Cell right>{durationOf(item.right)}</Cell>
                <Cell right>{durationOf(item.others)}</Cell>
                <Cell right>{percent(share[item.id])}</Cell>
              </Row>
            ))}
          </Table>
        </Region>
      }
    />
  );
}

/** How long one question took, in a sentence; nothing where that is not known. */
export function TimeOnIt({ sittingId, question }: { sittingId: number; question: string }) {
  const one = useTime(sittingId).data?.figures.items.find((item) => item.id === question);
  if (!one || one.median === null) return null;
  const apart =
    one.right !== null && one.others !== null
      ? t` Who has it right took ${durationOf(one.right)}, the others ${durationOf(one.others)}.`
      : "";
  return (
    <p className="mt-2 mb-5 text-sm text-graphite">
      {t`Time on it: ${durationOf(one.median)} in the middle, half of them between ${durationOf(one.q1)} and ${durationOf(one.q3)}.${apart}`}
    </p>
  );
}
