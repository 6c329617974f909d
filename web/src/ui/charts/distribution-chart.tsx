import { t } from "@lingui/core/macro";
import { scaleBand, scaleLinear } from "@visx/scale";
import { beside } from "./labels";

const WIDTH = 500;
const HEIGHT = 163;
const EDGE = { left: 8, right: 8, top: 31, bottom: 22 };

/** One bar of a chart of totals: what it is called, and which totals are in it. */
export type TotalsBar = { name: string; has: (score: number) => boolean };
type Props = {
  counts: { score: number; students: number }[];
  max: number;
  mean: number | null;
  onChoose?: (bar: TotalsBar) => void;
};

/** Students per total: one block a student, so that a class is seen as a class. */
export function DistributionChart({ counts, max, mean, onChoose }: Props) {
  const step = Math.max(1, Math.ceil(max / 30));
  const bins = Array.from({ length: Math.floor(max / step) + 1 }, (_, place) => place * step);
  const inBin = (bin: number) =>
    counts.filter(({ score }) => score >= bin && score < bin + step).reduce((sum, { students }) => sum + students, 0);
  const most = Math.max(1, ...bins.map(inBin));
  const x = scaleBand({ domain: bins, range: [EDGE.left, WIDTH - EDGE.right], padding: 0.15 });
  const y = scaleLinear({ domain: [0, most], range: [HEIGHT - EDGE.bottom, EDGE.top] });
  const one = (y(0) - y(most)) / most;
  const sparse = most <= 14;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mt-2 w-full text-[12px]"
      role="img"
      aria-label={t`Students per total: ${counts.map(({ score, students }) => t`${students} with ${score}`).join(", ")}`}
    >
      <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--edge)" />
      {bins.map((bin) => {
        const students = inBin(bin);
        const blocks = sparse ? students : Math.min(1, students);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: a short way for the pointer; a table names everybody
          <g
            key={bin}
            className={onChoose && students > 0 ? "cursor-pointer" : ""}
            onClick={() =>
              students > 0 &&
              onChoose?.({
                name: step > 1 ? t`${bin} to under ${bin + step} marks` : t`${bin} marks`,
                has: (score) => score >= bin && score < bin + step,
              })
            }
          >
            {Array.from({ length: blocks }, (_, place) => (
              <rect
                // biome-ignore lint/suspicious/noArrayIndexKey: equal blocks, drawn anew together
                key={place}
                x={x(bin)}
                width={x.bandwidth()}
                y={sparse ? y(place + 1) + 1 : y(students)}
                height={sparse ? Math.max(1, one - 1.5) : y(0) - y(students)}
                fill="var(--ink)"
                fillOpacity={0.75}
              />
            ))}
            {students > 0 && (
              <text
                x={(x(bin) ?? 0) + x.bandwidth() / 2}
                y={y(students) - 3}
                textAnchor="middle"
                fill="var(--graphite)"
              >
                {students}
              </text>
            )}
            {(bins.length < 24 || bin % (5 * step) === 0) && (
              <text x={(x(bin) ?? 0) + x.bandwidth() / 2} y={HEIGHT - 6} textAnchor="middle" fill="var(--graphite)">
                {bin}
              </text>
            )}
          </g>
        );
      })}
      {mean !== null && <MeanLine at={(x(0) ?? 0) + x.bandwidth() / 2 + (mean / step) * x.step()} />}
    </svg>
  );
}

function MeanLine({ at }: { at: number }) {
  return (
    <g>
      <line x1={at} x2={at} y1={12} y2={HEIGHT - EDGE.bottom} stroke="var(--iris)" strokeWidth={2} />
      <text {...beside(at, "mean", WIDTH)} y={11} fill="var(--iris)" fontWeight={600}>{t`mean`}</text>
    </g>
  );
}
