import type { Schemas } from "../api/client";

/** A flag in the margin: a diamond for a question that failed or misled, a half circle for one that wants polish. */
export function FlagSign({ flag }: { flag: Schemas["FlagNote"] }) {
  return (
    <span className={flag.urgent ? "text-clay" : "text-ochre"}>
      {flag.urgent ? "◆" : "◐"} {flag.short}
    </span>
  );
}
