import { t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { percent } from "../words";
import type { TotalsBar } from "./distribution-chart";
import { beside, centred } from "./labels";

const WIDTH = 620;
const HEIGHT = 230;
const EDGE = { left: 10, right: 10, top: 46, bottom: 24 };
const MOST_BARS = 40;

type Props = {
  counts: { score: number; students: number }[];
  max: number;
  mean: number;
  cuts: { at: number; share: number }[];
  sem: number | null;
  onChoose?: (bar: TotalsBar) => void;
};

/** Students by total, with the cuts, and round each the band in which one cannot be sure. */
export function TotalsChart({ counts, max, mean, cuts, sem, onChoose }: Props) {
  const step = Math.max(1, Math.ceil(max / MOST_BARS));
  const bars = new Map<number, number>();
  const barOf = (score: number) => Math.round(score / step) * step;
  for (const { score, students } of counts) {
    const bar = barOf(score);
    bars.set(bar, (bars.get(bar) ?? 0) + students);
  }
  const lowest = Math.min(0, ...bars.keys());
  const x = scaleLinear({ domain: [lowest - step / 2, max + step / 2], range: [EDGE.left, WIDTH - EDGE.right] });
  const most = Math.max(1, ...bars.values());
  const y = scaleLinear({ domain: [0, most], range: [HEIGHT - EDGE.bottom, EDGE.top] });
  const wide = Math.max(2, (x(step) - x(0)) * 0.8);
  const words = [...bars].sort(([a], [b]) => a - b).map(([bar, students]) => t`${students} with ${bar}`);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mb-4 w-full text-[12px]"
      role="img"
      aria-label={t`Students by total of ${max}: ${words.join(", ")}. Mean ${mean.toFixed(1)}.`}
    >
      {sem !== null &&
        cuts.map((cut, place) => (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: two cuts may be the same
            key={place}
            x={x(Math.max(lowest, cut.at - sem))}
            width={x(Math.min(max, cut.at + sem)) - x(Math.max(lowest, cut.at - sem))}
            y={EDGE.top - 4}
            height={HEIGHT - EDGE.bottom - EDGE.top + 4}
            fill="var(--ochre-wash)"
          />
        ))}
      <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--edge)" />
      {[...bars].map(([bar, students]) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: a short way for the pointer; a table names everybody
        <g
          key={bar}
          className={onChoose ? "cursor-pointer" : ""}
          onClick={() =>
            onChoose?.({
              name: step > 1 ? t`about ${bar} marks` : t`${bar} marks`,
              has: (score) => barOf(score) === bar,
            })
          }
        >
          <rect
            x={x(bar) - wide / 2}
            width={wide}
            y={y(students)}
            height={y(0) - y(students)}
            fill="var(--ink)"
            fillOpacity={0.75}
          />
          <text x={x(bar)} y={y(students) - 3} textAnchor="middle" fill="var(--graphite)">
            {students}
          </text>
        </g>
      ))}
      {x
        .ticks(10)
        .filter(Number.isInteger)
        .map((tick) => (
          <text key={tick} x={x(tick)} y={HEIGHT - 8} textAnchor="middle" fill="var(--graphite)">
            {tick}
          </text>
        ))}
      {cuts.map((cut, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: as above
        <g key={place}>
          <line x1={x(cut.at)} x2={x(cut.at)} y1={EDGE.top - 10} y2={y(0)} stroke="var(--ochre)" strokeWidth={2} />
          <text
            {...centred(x(cut.at), t`cut ${percent(cut.share)}`, WIDTH)}
            y={EDGE.top - 14}
            fill="var(--ochre)"
            fontWeight={600}
          >
            {t`cut ${percent(cut.share)}`}
          </text>
        </g>
      ))}
      <line x1={x(mean)} x2={x(mean)} y1={EDGE.top - 26} y2={y(0)} stroke="var(--iris)" strokeWidth={2} />
      <text
        {...beside(x(mean), t`mean ${mean.toFixed(1)}`, WIDTH)}
        y={EDGE.top - 28}
        fill="var(--iris)"
        fontWeight={600}
      >
        {t`mean ${mean.toFixed(1)}`}
      </text>
      {sem !== null && cuts.length > 0 && (
        // On the side on which the mean is not.
        <text
          x={mean < max / 2 ? WIDTH - EDGE.right : EDGE.left}
          y={12}
          textAnchor={mean < max / 2 ? "end" : "start"}
          fill="var(--graphite)"
        >
          {t`shaded: within ±${sem.toFixed(1)} marks of a cut, one cannot be sure`}
        </text>
      )}
    </svg>
  );
}
