import { t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { percent } from "../words";
import { PercentTicks } from "./percent-ticks";

type Standing = { id: number; name: string; share: number };
type Props = { rows: Standing[]; line: number; title: string };

const WIDTH = 620;
const LINE = 19;
const EDGE = { left: 150, right: 48, top: 26, bottom: 22 };

/** Students by their share of the marks against a line: filled who reaches it, hollow who does not, by how much. */
export function LineUpChart({ rows, line, title }: Props) {
  const height = EDGE.top + EDGE.bottom + LINE * rows.length;
  const x = scaleLinear({ domain: [0, 1], range: [EDGE.left, WIDTH - EDGE.right], clamp: true });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="w-full text-[12px]"
      role="img"
      aria-label={t`${title} against ${percent(line)}: ${rows.filter((row) => row.share >= line - 1e-9).length} of ${rows.length} reach it; the table has the figures.`}
    >
      <PercentTicks x={x} top={EDGE.top} bottom={EDGE.bottom} height={height} />
      <line
        x1={x(line)}
        x2={x(line)}
        y1={EDGE.top - 6}
        y2={height - EDGE.bottom}
        stroke="var(--iris)"
        strokeWidth={2}
      />
      <text x={x(line)} y={14} textAnchor="middle" fill="var(--iris)" fontWeight={600}>
        {t`the line, ${percent(line)}`}
      </text>
      {rows.map((row, place) => {
        const y = EDGE.top + LINE * place + LINE / 2;
        const reached = row.share >= line - 1e-9;
        const colour = reached ? "var(--teal)" : "var(--clay)";
        return (
          <g key={row.id}>
            <text x={EDGE.left - 8} y={y + 4} textAnchor="end" fill="var(--ink)">
              {row.name.length > 22 ? `${row.name.slice(0, 21)}…` : row.name}
            </text>
            <line x1={x(line)} x2={x(row.share)} y1={y} y2={y} stroke={colour} strokeWidth={2} />
            <circle
              cx={x(row.share)}
              cy={y}
              r={4.5}
              fill={reached ? colour : "var(--page)"}
              stroke={colour}
              strokeWidth={1.5}
            />
            <text x={WIDTH - EDGE.right + 8} y={y + 4} fill={colour}>
              {percent(row.share)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
