import { t } from "@lingui/core/macro";
import { amount } from "../ui/words";

type Props = { measure: number; error: number; low: number; high: number };

/** Where a piece stands on the scale of all, and how sure that is. */
export function ScaleLine({ measure, error, low, high }: Props) {
  const at = (value: number) => (high > low ? (100 * (value - low)) / (high - low) : 50);
  const [from, to] = [at(measure - 1.96 * error), at(measure + 1.96 * error)];
  return (
    <span
      role="img"
      aria-label={t`${amount(measure, 2)}, from ${amount(measure - 1.96 * error, 2)} to ${amount(measure + 1.96 * error, 2)}`}
      className="relative block h-4 w-full min-w-32"
    >
      <span className="absolute inset-x-0 top-1/2 border-t border-hairline" />
      <span
        className="absolute top-1/2 h-1 -translate-y-1/2 bg-edge"
        style={{ insetInlineStart: `${from}%`, width: `${to - from}%` }}
      />
      <span
        className="absolute top-1/2 size-2.5 -translate-y-1/2 bg-ink"
        style={{ insetInlineStart: `calc(${at(measure)}% - 5px)` }}
      />
    </span>
  );
}
