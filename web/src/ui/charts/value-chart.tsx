import { plural, t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { centred, spreadLabels } from "./labels";

type Value = { value: number; seats: number[] };
type Idea = { low: number | null; high: number | null; says: string };
type Props = { values: Value[]; ideas: Idea[]; answer: number; unit: string };

const WIDTH = 500;
const EDGE = { left: 16, right: 16, top: 14, bottom: 34 };
const DOT = 9;
const LABEL = 15;

/** The numbers given, a dot a student, with the right one and the ranges that show an idea. */
export function ValueChart({ values, ideas, answer, unit }: Props) {
  const inside = within([...values.map((value) => value.value), answer]);
  const shown = values.filter((value) => value.value >= inside.low && value.value <= inside.high);
  const beyond = values.filter((value) => !shown.includes(value));
  const most = Math.max(2, ...shown.map((one) => one.seats.length));
  const labelled = ideas.filter((idea) => idea.says);
  const top = EDGE.top + LABEL * labelled.length;
  const ground = top + DOT * most + 8;
  const height = ground + EDGE.bottom;
  const pad = (inside.high - inside.low || Math.abs(answer) || 1) * 0.06;
  // A third is shown as a person would write it.
  const right = `right: ${Number(answer.toPrecision(4))} ${unit}`;
  const x = scaleLinear({
    domain: [inside.low - pad, inside.high + pad],
    range: [EDGE.left, WIDTH - EDGE.right],
    clamp: true,
  });
  const band = (idea: Idea) => [x(idea.low ?? inside.low - pad), x(idea.high ?? inside.high + pad)] as const;
  const heights = spreadLabels(
    labelled.map((_, at) => EDGE.top + LABEL * at),
    LABEL,
    EDGE.top - 4,
    top,
  );
  return (
    <>
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        className="mt-2 w-full text-[12px]"
        role="img"
        aria-label={t`Numbers given: ${values.map((value) => t`${value.value} by ${value.seats.length}`).join(", ")}. Right is ${answer} ${unit}.`}
      >
        {ideas.map((idea) => {
          const [from, to] = band(idea);
          return (
            <rect
              key={`${idea.low} ${idea.high}`}
              x={Math.min(from, to) - 4}
              width={Math.abs(to - from) + 8}
              y={top - 6}
              height={ground - top + 6}
              fill="var(--plum-wash)"
            />
          );
        })}
        {labelled.map((idea, at) => {
          const [from, to] = band(idea);
          const middle = (from + to) / 2;
          const left = middle < WIDTH / 2;
          return (
            <g key={idea.says} fill="var(--plum)">
              <line x1={middle} x2={middle} y1={(heights[at] ?? 0) - 8} y2={top - 6} stroke="var(--plum)" />
              <text x={middle + (left ? 5 : -5)} y={heights[at]} textAnchor={left ? "start" : "end"}>
                {idea.says.length > 50 ? `${idea.says.slice(0, 49)}…` : idea.says}
              </text>
            </g>
          );
        })}
        <line x1={0} x2={WIDTH} y1={ground} y2={ground} stroke="var(--edge)" />
        <line x1={x(answer)} x2={x(answer)} y1={top - 2} y2={ground + 5} stroke="var(--teal)" strokeWidth={2} />
        {shown.map((one) =>
          one.seats.map((seat, at) => (
            <circle
              key={seat}
              cx={x(one.value)}
              cy={ground - DOT / 2 - 2 - DOT * at}
              r={DOT / 2 - 0.5}
              fill={one.value === answer ? "var(--teal)" : "var(--ink)"}
            />
          )),
        )}
        {x.ticks(7).map((tick) => (
          <text key={tick} x={x(tick)} y={ground + 16} textAnchor="middle" fill="var(--graphite)">
            {tick}
          </text>
        ))}
        <text {...centred(x(answer), right, WIDTH)} y={height - 3} fill="var(--teal)" fontWeight={600}>
          {right}
        </text>
      </svg>
      {beyond.length > 0 && (
        <p className="text-sm text-graphite">
          {t`Far off, and not drawn: ${beyond.map((one) => `${one.value} (${plural(one.seats.length, { one: "# student", other: "# students" })})`).join(", ")}.`}
        </p>
      )}
    </>
  );
}

/** Where most of the values lie: three times the middle half beyond it, as boxes are drawn, so that one slip of the
 * decimal point does not press all the others together. */
function within(values: number[]): { low: number; high: number } {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))] ?? 0;
  const answer = values.at(-1) ?? 0;
  const reach = 3 * (at(0.75) - at(0.25)) || Infinity;
  const near = sorted.filter((one) => one >= at(0.25) - reach && one <= at(0.75) + reach);
  return { low: Math.min(answer, ...near), high: Math.max(answer, ...near) };
}
