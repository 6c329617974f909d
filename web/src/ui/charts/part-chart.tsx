import { t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";

type Props = { points: { label: string; count: number }[]; most: number };

const HEIGHT = 96;
const BASE = 74;
const TOP = 14;

/** How many took part at each step, as steps on a line from none to all; the counts stand on it. */
export function PartChart({ points, most }: Props) {
  const wide = Math.max(34, Math.min(96, 380 / Math.max(1, points.length)));
  const width = Math.max(380, wide * points.length);
  const y = scaleLinear({ domain: [0, Math.max(1, most)], range: [BASE, TOP] });
  return (
    <div className="overflow-x-auto py-2">
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        style={{ width: "100%", minWidth: width }}
        role="img"
        aria-label={t`Answers along the lesson: ${points.map((point) => t`question ${point.label}, ${point.count}`).join("; ")}`}
      >
        <line x1={0} x2={width} y1={y(most)} y2={y(most)} className="stroke-hairline" strokeDasharray="3 3" />
        <line x1={0} x2={width} y1={BASE} y2={BASE} className="stroke-edge" />
        {points.map((point, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place
          <g key={at} transform={`translate(${at * wide} 0)`}>
            <rect x={3} width={wide - 6} y={y(point.count)} height={BASE - y(point.count)} className="fill-edge/50" />
            <text
              x={wide / 2}
              y={y(point.count) - 3}
              textAnchor="middle"
              className="fill-ink text-[12px] font-semibold"
            >
              {point.count}
            </text>
            <text x={wide / 2} y={BASE + 14} textAnchor="middle" className="fill-graphite text-[12px]">
              {point.label}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}
