import { t } from "@lingui/core/macro";
import { amount, percent } from "./words";

type Props = { low: number | null; high: number | null; in?: (share: number | null) => string };

/** How sure a figure is, on a line below it; nothing where that cannot be said. */
export function Interval({ low, high, in: said = percent }: Props) {
  if (low === null || high === null) return null;
  return <span className="block text-xs text-graphite">{t`${said(low)} to ${said(high)}`}</span>;
}

/** A difference of shares in percentage points, with its sign. */
export const points = (share: number | null) =>
  share === null ? "–" : `${share > 0 && Math.round(100 * share) !== 0 ? "+" : ""}${amount(100 * share, 0)}`;
