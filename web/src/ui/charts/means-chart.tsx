import { plural, t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { percent } from "../words";
import { PercentTicks } from "./percent-ticks";

type ShownMean = {
  key: string;
  name: string;
  mean: number | null;
  low: number | null;
  high: number | null;
  /** Whether it stands out by more than chance brings. */
  sure: boolean;
  count: number;
};
type Props = {
  rows: ShownMean[];
  /** The mean of all, drawn as a line through the rows. */
  whole: number | null;
  wholeName: string;
  chosen?: string;
  onChoose?: (key: string) => void;
};

const WIDTH = 620;
const LINE = 30;
const EDGE = { left: 176, right: 60, top: 26, bottom: 22 };

/** Means of several groups, a line each with its interval; filled where one stands out. */
export function MeansChart({ rows, whole, wholeName, chosen, onChoose }: Props) {
  const known = rows.filter((row) => row.mean !== null);
  const height = EDGE.top + EDGE.bottom + LINE * known.length;
  const x = scaleLinear({ domain: [0, 1], range: [EDGE.left, WIDTH - EDGE.right], clamp: true });
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="mb-4 w-full text-[12px]"
      role="img"
      aria-label={t`Means of ${known.length} groups with their intervals; the table has the figures.`}
    >
      <PercentTicks x={x} top={EDGE.top} bottom={EDGE.bottom} height={height} />
      {whole !== null && (
        <>
          <line
            x1={x(whole)}
            x2={x(whole)}
            y1={EDGE.top - 8}
            y2={height - EDGE.bottom}
            stroke="var(--ink)"
            strokeDasharray="4 3"
          />
          <text x={x(whole)} y={12} textAnchor="middle" fill="var(--ink)">
            {`${wholeName} ${percent(whole)}`}
          </text>
        </>
      )}
      {known.map((row, place) => {
        const y = EDGE.top + LINE * place + LINE / 2;
        const colour = row.sure ? "var(--plum)" : "var(--ink)";
        return (
          <g
            key={row.key}
            {...(onChoose && { onClick: () => onChoose(row.key) })}
            className={onChoose ? "cursor-pointer" : ""}
          >
            <rect
              x={0}
              y={y - LINE / 2}
              width={WIDTH}
              height={LINE}
              fill={row.key === chosen ? "var(--iris-wash)" : "transparent"}
            />
            <text x={EDGE.left - 10} y={y - 1} textAnchor="end" fill={colour} fontWeight={row.sure ? 600 : 400}>
              {row.name.length > 26 ? `${row.name.slice(0, 25)}…` : row.name}
            </text>
            <text x={EDGE.left - 10} y={y + 11} textAnchor="end" fill="var(--graphite)" className="text-[10px]">
              {plural(row.count, { one: "# student", other: "# students" })}
            </text>
            {row.low !== null && row.high !== null && (
              <line x1={x(row.low)} x2={x(row.high)} y1={y} y2={y} stroke={colour} strokeWidth={2} />
            )}
            <circle
              cx={x(row.mean ?? 0)}
              cy={y}
              r={5}
              fill={row.sure ? colour : "var(--page)"}
              stroke={colour}
              strokeWidth={1.5}
            />
            <text x={WIDTH - EDGE.right + 10} y={y + 4} fill={colour} fontWeight={600}>
              {percent(row.mean)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
