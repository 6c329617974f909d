import { t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { durationOf } from "../words";

type Time = { label: string; median: number | null; q1: number | null; q3: number | null; lit: boolean };

const WIDTH = 620;
const LINE = 22;
const EDGE = { left: 64, right: 64, top: 20, bottom: 22 };

/** Time on each question, a line each: the middle half of the class as a bar, the median as a stroke through it. */
export function TimesChart({ rows }: { rows: Time[] }) {
  const known = rows.filter((row) => row.median !== null);
  const height = EDGE.top + EDGE.bottom + LINE * known.length;
  const x = scaleLinear({
    domain: [0, Math.max(30, ...known.map((row) => row.q3 ?? 0))],
    range: [EDGE.left, WIDTH - EDGE.right],
  });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full text-[12px]"
      role="img"
      aria-label={t`Time on ${known.length} questions; the table has the figures.`}
    >
      <text x={EDGE.left} y={12} fill="var(--graphite)">{t`minutes : seconds`}</text>
      {x.ticks(6).map((tick) => (
        <g key={tick}>
          <line x1={x(tick)} x2={x(tick)} y1={EDGE.top} y2={height - EDGE.bottom} stroke="var(--hairline)" />
          <text x={x(tick)} y={height - 6} textAnchor="middle" fill="var(--graphite)">
            {durationOf(tick)}
          </text>
        </g>
      ))}
      {known.map((row, place) => {
        const y = EDGE.top + LINE * place + LINE / 2;
        const [from, middle, to] = [x(row.q1 ?? 0), x(row.median ?? 0), x(row.q3 ?? 0)];
        const colour = row.lit ? "var(--plum)" : "var(--ink)";
        return (
          <g key={row.label} fill={colour} fontWeight={row.lit ? 600 : 400}>
            <text x={EDGE.left - 8} y={y + 4} textAnchor="end">
              {row.label.slice(0, 9)}
            </text>
            <rect
              x={from}
              width={Math.max(1, to - from)}
              y={y - 6}
              height={12}
              fill={row.lit ? "var(--plum-wash)" : "var(--page-2)"}
              stroke={colour}
            />
            <line x1={middle} x2={middle} y1={y - 8} y2={y + 8} stroke={colour} strokeWidth={2.5} />
            <text x={to + 7} y={y + 4}>
              {durationOf(row.median ?? 0)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
