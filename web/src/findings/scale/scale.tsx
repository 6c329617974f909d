import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { scaleLinear } from "@visx/scale";
import { Link } from "react-router";
import { api, read, type Schemas } from "../../api/client";
import { spreadLabels } from "../../ui/charts/labels";
import { Problem } from "../../ui/field";
import { Hint } from "../../ui/hint";
import { Empty, Opening, Region, SplitPage } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { amount, figure, listed, namesIn } from "../../ui/words";
import { useScope } from "../use-analysis-filter";

type Page = Schemas["ScalePage"];
type Scale = NonNullable<Page["scale"]>;

const WIDTH = 620;
const HEIGHT = 560;
const MIDDLE = 300;
const EDGE = { top: 26, bottom: 16 };
const LOW = 0.7;
const HIGH = 1.3;

/** Students and questions on one scale: who is about as able as what is hard, and who or what does not fit. */
export function ScaleView({ sittingId }: { sittingId: number }) {
  const { query, key } = useScope();
  const found = useQuery({
    queryKey: ["findings", sittingId, "scale", key],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/findings/scale", { params: { path: { sitting_id: sittingId }, query } }),
      ),
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  if (!page?.scale)
    return (
      <div className="px-6 py-4">
        <Problem error={found.error} />
        {page && <Empty title={t`These answers allow no scale.`}>{page.why}</Empty>}
      </div>
    );
  const { scale } = page;
  return (
    <SplitPage
      split="even"
      names={{ left: t`The scale`, right: t`What does not fit` }}
      left={
        <>
          <Opening>{opening(page, scale)}</Opening>
          <Chart page={page} scale={scale} />
        </>
      }
      right={<Fits page={page} scale={scale} sittingId={sittingId} />}
    />
  );
}

function opening(page: Page, scale: Scale): string {
  const middle = (values: number[]) => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);
  const apart =
    middle(scale.persons.map((person) => person.measure)) - middle(scale.items.map((item) => item.difficulty));
  const level =
    Math.abs(apart) < 0.5
      ? t`The test is about as hard as this class is able.`
      : apart > 0
        ? t`The test is easy for this class: most students stand above most questions.`
        : t`The test is hard for this class: most students stand below most questions.`;
  const hardest = [...scale.items].sort((a, b) => b.difficulty - a.difficulty).slice(0, 2);
  const reliable = scale.separation_reliability;
  return t`${level} Hardest are ${listed(hardest.map((one) => page.labels[one.id] ?? ""))}.${reliable !== null && reliable < 0.5 ? t` Students stand too close together to be told apart by it.` : ""}`;
}

function Chart({ page, scale }: { page: Page; scale: Scale }) {
  const all = [...scale.persons.map((one) => one.measure), ...scale.items.map((one) => one.difficulty)];
  const y = scaleLinear({
    domain: [Math.min(...all) - 0.3, Math.max(...all) + 0.3],
    range: [HEIGHT - EDGE.bottom, EDGE.top],
  });
  const steps = new Map<number, number>();
  for (const person of scale.persons) {
    const step = Math.round(person.measure * 4) / 4;
    steps.set(step, (steps.get(step) ?? 0) + 1);
  }
  const wide = Math.min(14, (MIDDLE - 60) / Math.max(1, ...steps.values()));
  const items = [...scale.items].sort((a, b) => b.difficulty - a.difficulty);
  const heights = spreadLabels(
    items.map((item) => y(item.difficulty) ?? 0),
    14,
    EDGE.top,
    HEIGHT - EDGE.bottom,
  );
  const ticks = y.ticks(7);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full text-[12px]"
      role="img"
      aria-label={t`${scale.persons.length} students and ${items.length} questions on one scale; the table beside it has the figures.`}
    >
      <text x={MIDDLE - 14} y={14} textAnchor="end" fill="var(--graphite)">{t`students, able above`}</text>
      <text x={MIDDLE + 14} y={14} fill="var(--graphite)">{t`questions, hard above`}</text>
      {ticks.map((tick) => (
        <g key={tick}>
          <line x1={36} x2={WIDTH - 8} y1={y(tick)} y2={y(tick)} stroke="var(--hairline)" />
          <text x={30} y={(y(tick) ?? 0) + 4} textAnchor="end" fill="var(--graphite)">
            {amount(tick)}
          </text>
        </g>
      ))}
      <line x1={MIDDLE} x2={MIDDLE} y1={EDGE.top - 6} y2={HEIGHT - EDGE.bottom} stroke="var(--edge)" />
      {[...steps].map(([step, count]) => (
        <g key={step}>
          {Array.from({ length: count }, (_, place) => (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: equal blocks, drawn anew together
              key={place}
              x={MIDDLE - 6 - (place + 1) * wide}
              y={(y(step) ?? 0) - 5}
              width={Math.max(1, wide - 2)}
              height={10}
              fill="var(--ink)"
              fillOpacity={0.75}
            />
          ))}
        </g>
      ))}
      {items.map((item, place) => {
        const off = misfits(item);
        const at = y(item.difficulty) ?? 0;
        return (
          <g key={item.id}>
            <circle cx={MIDDLE + 10} cy={at} r={4} fill={off ? "var(--plum)" : "var(--page)"} stroke="var(--ink)" />
            <line
              x1={MIDDLE + 15}
              x2={MIDDLE + 34}
              y1={at}
              y2={heights[place]}
              stroke={off ? "var(--plum)" : "var(--edge)"}
            />
            <text
              x={MIDDLE + 38}
              y={(heights[place] ?? 0) + 4}
              fill={off ? "var(--plum)" : "var(--ink)"}
              fontWeight={off ? 600 : 400}
            >
              {t`Question ${page.labels[item.id] ?? ""}  ${amount(item.difficulty)}${off ? t`, does not fit` : ""}`}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

const SURE = 2;

/** Named only where the mean square is off by more than chance would bring. */
const misfits = (one: { outfit: number | null; outfit_z: number | null }) =>
  one.outfit !== null && Math.abs(one.outfit_z ?? 0) >= SURE && (one.outfit < LOW || one.outfit > HIGH);

function Fits({ page, scale, sittingId }: { page: Page; scale: Scale; sittingId: number }) {
  const off = scale.items.filter(misfits);
  const students = scale.persons.filter((person) => misfits(person) && (person.outfit ?? 0) > HIGH);
  const { andersen, separation_reliability: separation } = scale;
  return (
    <>
      <Region name={t`What does not fit`} remark={scale.model}>
        <p className="my-3">
          {off.length === 0
            ? t`Every question is answered about as its place on the scale leads one to expect.`
            : off.map((one) => fitWords(page, one)).join(" ")}
        </p>
        <p className="mb-3">
          {students.length === 0
            ? t`No student’s answers surprise.`
            : t`Answers surprise of ${namesIn(students.map((student) => page.names[student.student] ?? ""))} Look whether they guessed, hurried or missed a lesson.`}
        </p>
      </Region>
      <Region name={t`Figures`}>
        <p className="my-2 flex flex-wrap gap-x-5 text-sm text-graphite">
          <Hint says={t`The share of the differences between students on the scale that is not error of measurement.`}>
            <Trans>
              separation reliability <strong className="text-ink">{figure(separation)}</strong>
            </Trans>
          </Hint>
          <Hint
            says={t`Whether questions are as hard, beside each other, for the weaker half as for the stronger one; under .05 they are not.`}
          >
            <Trans>
              Andersen’s test <strong className="text-ink">p {figure(andersen?.p ?? null)}</strong>
            </Trans>
          </Hint>
        </p>
        <Table
          caption={t`Questions on the scale`}
          heads={[
            { label: t`No.`, right: true },
            { label: t`Difficulty`, right: true },
            { label: t`Error`, right: true },
            { label: t`Infit`, right: true },
            { label: t`Outfit`, right: true },
          ]}
        >
          {[...scale.items]
            .sort((a, b) => b.difficulty - a.difficulty)
            .map((item) => (
              <Row key={item.id} selected={misfits(item)}>
                <Cell right>
                  <Link to={`/findings/${sittingId}?question=${page.numbers[item.id]}`}>
                    {page.labels[item.id] ?? ""}
                  </Link>
                </Cell>
                <Cell right>{amount(item.difficulty, 2)}</Cell>
                <Cell right>{amount(item.difficulty_se, 2)}</Cell>
                <Cell right>{amount(item.infit, 2)}</Cell>
                <Cell right>{amount(item.outfit, 2)}</Cell>
              </Row>
            ))}
        </Table>
        <p className="mt-1 text-xs text-graphite">{t`Logits: at the same place a student has an even chance. Infit and outfit are 1 where answers are as expected; above ${HIGH} they surprise, below ${LOW} they say nothing new.`}</p>
        {Object.keys(scale.left_out).length > 0 && (
          <p className="mt-2 text-sm text-graphite">
            {t`Not on the scale: ${Object.keys(scale.left_out)
              .map((id) => page.labels[id])
              .join(
                ", ",
              )}, since everybody has the same on ${plural(Object.keys(scale.left_out).length, { one: "it", other: "them" })}.`}
          </p>
        )}
      </Region>
    </>
  );
}

function fitWords(page: Page, one: Scale["items"][number]): string {
  const label = page.labels[one.id];
  return (one.outfit ?? 0) > HIGH
    ? t`Question ${label ?? ""} surprises: able students miss it, or weaker ones have it.`
    : t`Question ${label ?? ""} follows the total almost too closely: it says little of its own.`;
}
