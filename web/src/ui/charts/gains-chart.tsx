import { t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { PercentTicks } from "./percent-ticks";

type Gain = { id: number; name: string; before: number | null; after: number | null };
type Props = { rows: Gain[]; before: string; after: string };

const WIDTH = 620;
const LINE = 20;
const EDGE = { left: 150, right: 48, top: 24, bottom: 22 };

/** From one share to another, a line a student: hollow where they began, filled where they came to. */
export function GainsChart({ rows, before, after }: Props) {
  const known = rows.filter((row) => row.before !== null && row.after !== null);
  const height = EDGE.top + EDGE.bottom + LINE * known.length;
  const x = scaleLinear({ domain: [0, 1], range: [EDGE.left, WIDTH - EDGE.right], clamp: true });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full text-[12px]"
      role="img"
      aria-label={t`From ${before} to ${after}, ${known.length} students; the table has the figures.`}
    >
      <text x={EDGE.left} y={12} fill="var(--graphite)">
        {`○ ${before}   ● ${after}`}
      </text>
      <PercentTicks x={x} top={EDGE.top} bottom={EDGE.bottom} height={height} />
      {known.map((row, place) => {
        const y = EDGE.top + LINE * place + LINE / 2;
        const [from, to] = [row.before ?? 0, row.after ?? 0];
        const colour = to < from ? "var(--clay)" : "var(--teal)";
        return (
          <g key={row.id}>
            <text x={EDGE.left - 8} y={y + 4} textAnchor="end" fill="var(--ink)">
              {row.name.length > 22 ? `${row.name.slice(0, 21)}…` : row.name}
            </text>
            <line x1={x(from)} x2={x(to)} y1={y} y2={y} stroke={colour} strokeWidth={2} />
            <circle cx={x(from)} cy={y} r={4} fill="var(--page)" stroke={colour} strokeWidth={1.5} />
            <circle cx={x(to)} cy={y} r={4.5} fill={colour} />
            <text x={WIDTH - EDGE.right + 8} y={y + 4} fill={colour}>
              {`${to < from ? "−" : to > from ? "+" : ""}${Math.round(100 * Math.abs(to - from))}`}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
