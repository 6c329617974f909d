import { t } from "@lingui/core/macro";
import { percent } from "../words";

type Props = { counts: number[]; mean: number | null };
const WIDTH = 6;
const HEIGHT = 26;

/** Students by the share of the marks that they have, small enough for a line of a list. */
export function SmallSpread({ counts, mean }: Props) {
  const most = Math.max(1, ...counts);
  const width = counts.length * WIDTH;
  return (
    <svg
      viewBox={`0 0 ${width} ${HEIGHT}`}
      width={width * 1.6}
      height={HEIGHT * 1.6}
      role="img"
      aria-label={mean === null ? t`No totals yet` : t`Totals, ${percent(mean)} of the marks on average`}
    >
      <line x1={0} x2={width} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} stroke="var(--edge)" />
      {counts.map((students, at) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: a tenth of the marks is its place
          key={at}
          x={at * WIDTH + 0.6}
          width={WIDTH - 1.2}
          y={HEIGHT - 1 - (students / most) * (HEIGHT - 3)}
          height={(students / most) * (HEIGHT - 3)}
          fill="var(--graphite)"
        />
      ))}
      {mean !== null && (
        <line x1={mean * width} x2={mean * width} y1={0} y2={HEIGHT} stroke="var(--iris)" strokeWidth={1.2} />
      )}
    </svg>
  );
}
