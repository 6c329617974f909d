import { t } from "@lingui/core/macro";

type Props = { secure: number; nearly: number; notYet: number };

/** How many of a class are secure, nearly there and not yet, as one bar with its numbers on it; the fillings differ
 * in black and white too. */
export function BandsBar({ secure, nearly, notYet }: Props) {
  const all = Math.max(1, secure + nearly + notYet);
  const parts = [
    { count: notYet, fill: "var(--clay-wash)", ink: "var(--clay)", sign: "○" },
    { count: nearly, fill: "var(--ochre-wash)", ink: "var(--ochre)", sign: "◐" },
    { count: secure, fill: "var(--teal)", ink: "var(--page)", sign: "●" },
  ];
  let from = 0;
  return (
    <svg
      viewBox="0 0 90 18"
      className="w-full max-w-36 min-w-20 text-[12px]"
      role="img"
      aria-label={t`${secure} secure, ${nearly} nearly, ${notYet} not yet`}
    >
      {parts.map(({ count, fill, ink, sign }) => {
        const x = (90 * from) / all;
        const width = (90 * count) / all;
        from += count;
        if (count === 0) return null;
        return (
          <g key={sign}>
            <rect x={x} width={width} y={0.5} height={17} fill={fill} stroke="var(--edge)" strokeWidth={0.5} />
            <text x={x + width / 2} y={13} textAnchor="middle" fill={ink} fontWeight={600}>
              {width > 28 ? `${sign} ${count}` : width > 9 ? count : ""}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
