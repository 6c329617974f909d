import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { amount, percent } from "../ui/words";

type Line = Schemas["PileClosenessLine"];

/** What the agreed answers say of a marker: nothing is called harsh or mild that chance may have done. */
export function closeness(line: Line): string {
  const checks = plural(line.checks, { one: "# agreed answer", other: "# agreed answers" });
  const same = t`of ${checks} ${percent(line.exact)} marked the same, ${percent(line.adjacent)} within a point`;
  return `${same}; ${severityOf(line)}${latelyOf(line)}.`;
}

function severityOf({ severity, low, high }: Line): string {
  if (severity === null || low === null || high === null) return t`too few to say more`;
  const range = t`95% interval ${amount(low)} to ${amount(high)}`;
  if (low > 0) return t`${amount(severity)} points harsher than agreed (${range})`;
  if (high < 0)
    return t`${amount(-severity)} points milder than agreed (${t`95% interval ${amount(-high)} to ${amount(-low)}`})`;
  return t`neither harsh nor mild that could be told from chance (${range})`;
}

const latelyOf = (line: Line) =>
  line.harsher_lately ? t`, harsher lately` : line.milder_lately ? t`, milder lately` : "";
