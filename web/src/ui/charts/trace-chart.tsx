import { scaleLinear, scalePoint } from "@visx/scale";
import { LinePath } from "@visx/shape";
import { percent } from "../words";
import { spreadLabels } from "./labels";

type Point = { group: string; share: number; low: number; high: number };
export type Trace = { name: string; label: string; look: "key" | "lit" | "other"; points: Point[] };

const WIDTH = 500;
const HEIGHT = 190;
const EDGE = { left: 44, right: 130, top: 12, bottom: 26 };
const COLOURS = { key: "var(--teal)", lit: "var(--plum)", other: "var(--edge)" };
const DASHES = ["5 4", "2 3", "8 3", "1 4", "6 2 1 2", "3 5", "9 5"];
const LABEL_GAP = 15;

/** Share choosing each option, from the weakest score group to the strongest; labels stand at the lines' ends. */
export function TraceChart({ traces, title }: { traces: Trace[]; title: string }) {
  const groups = traces[0]?.points.map((point) => point.group) ?? [];
  const highest = Math.max(0.5, ...traces.flatMap((trace) => trace.points.map((point) => point.share)));
  const x = scalePoint({ domain: groups, range: [EDGE.left + 24, WIDTH - EDGE.right] });
  const y = scaleLinear({ domain: [0, highest > 0.75 ? 1 : 0.75], range: [HEIGHT - EDGE.bottom, EDGE.top] });
  const at = (point: Point) => ({ x: x(point.group) ?? 0, y: y(point.share) });
  const places = spreadLabels(
    traces.map((trace) => y(trace.points.at(-1)?.share ?? 0)),
    LABEL_GAP,
    EDGE.top,
    HEIGHT - EDGE.bottom,
  );
  const words = traces
    .map((trace) => `${trace.label}: ${trace.points.map((point) => percent(point.share)).join(", ")}`)
    .join("; ");
  let dash = 0;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mt-2 w-full text-[13px]"
      role="img"
      aria-label={`${title}. ${words}`}
    >
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <line x1={EDGE.left} x2={WIDTH - EDGE.right + 12} y1={y(tick)} y2={y(tick)} stroke="var(--hairline)" />
          <text x={EDGE.left - 6} y={y(tick) + 4} textAnchor="end" fill="var(--graphite)">
            {percent(tick)}
          </text>
        </g>
      ))}
      {groups.map((group) => (
        <text key={group} x={x(group)} y={HEIGHT - 6} textAnchor="middle" fill="var(--graphite)">
          {group}
        </text>
      ))}
      {traces.map((trace, place) => {
        const colour = COLOURS[trace.look];
        const plain = trace.look === "other";
        return (
          <g key={trace.name}>
            {!plain &&
              trace.points.map((point) => (
                <line
                  key={point.group}
                  x1={at(point).x}
                  x2={at(point).x}
                  y1={y(point.low)}
                  y2={y(point.high)}
                  stroke={colour}
                  strokeOpacity={0.35}
                  strokeWidth={5}
                />
              ))}
            <LinePath
              data={trace.points}
              x={(point) => at(point).x}
              y={(point) => at(point).y}
              stroke={colour}
              strokeWidth={plain ? 1.5 : 2.5}
              {...(plain ? { strokeDasharray: DASHES[dash++ % DASHES.length] ?? "" } : {})}
            />
            {trace.points.map((point) => (
              <circle key={point.group} cx={at(point).x} cy={at(point).y} r={plain ? 3 : 4} fill={colour} />
            ))}
            <text
              x={WIDTH - EDGE.right + 14}
              y={(places[place] ?? 0) + 4}
              fill={plain ? "var(--graphite)" : colour}
              fontWeight={plain ? 400 : 600}
            >
              {trace.label}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
