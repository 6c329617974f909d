import { t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { amount } from "../words";

type Difference = { label: string; difference: number | null; low: number | null; high: number | null };
type Props = { rows: Difference[]; first: string; second: string };

const WIDTH = 620;
const LINE = 20;
const EDGE = { left: 64, right: 16, top: 26, bottom: 22 };

/** Differences between two shares, a line a question: the interval as a bar, filled where it leaves 0. */
export function DifferencesChart({ rows, first, second }: Props) {
  const known = rows.filter((row) => row.difference !== null);
  const height = EDGE.top + EDGE.bottom + LINE * known.length;
  const reach = Math.max(0.2, ...known.flatMap((row) => [Math.abs(row.low ?? 0), Math.abs(row.high ?? 0)]));
  const x = scaleLinear({ domain: [-reach, reach], range: [EDGE.left, WIDTH - EDGE.right] });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full text-[12px]"
      role="img"
      aria-label={t`Difference between ${first} and ${second} on ${known.length} questions; the table has the figures.`}
    >
      <text x={x(0) + 8} y={14} fill="var(--graphite)">
        {t`more of ${short(first)} →`}
      </text>
      <text x={x(0) - 8} y={14} textAnchor="end" fill="var(--graphite)">
        {t`← more of ${short(second)}`}
      </text>
      {x.ticks(7).map((tick) => (
        <g key={tick}>
          <line x1={x(tick)} x2={x(tick)} y1={EDGE.top - 6} y2={height - EDGE.bottom} stroke="var(--hairline)" />
          <text x={x(tick)} y={height - 6} textAnchor="middle" fill="var(--graphite)">
            {amount(100 * tick, 0)}
          </text>
        </g>
      ))}
      <line x1={x(0)} x2={x(0)} y1={EDGE.top - 6} y2={height - EDGE.bottom} stroke="var(--edge)" strokeWidth={1.5} />
      {known.map((row, place) => {
        const y = EDGE.top + LINE * place + LINE / 2;
        const sure = (row.low ?? 0) > 0 || (row.high ?? 0) < 0;
        const colour = sure ? "var(--plum)" : "var(--ink)";
        return (
          <g key={row.label}>
            <text x={EDGE.left - 8} y={y + 4} textAnchor="end" fill={colour} fontWeight={sure ? 600 : 400}>
              {row.label.slice(0, 9)}
            </text>
            <line x1={x(row.low ?? 0)} x2={x(row.high ?? 0)} y1={y} y2={y} stroke={colour} strokeWidth={2} />
            <circle
              cx={x(row.difference ?? 0)}
              cy={y}
              r={4.5}
              fill={sure ? colour : "var(--page)"}
              stroke={colour}
              strokeWidth={1.5}
            />
          </g>
        );
      })}
    </svg>
  );
}

const short = (name: string) => (name.length > 28 ? `${name.slice(0, 27)}…` : name);
