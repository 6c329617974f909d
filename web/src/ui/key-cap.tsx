import type { ReactNode } from "react";

/** A key as it stands beside what it does; as a hint it is left out where there is likely no keyboard. */
export function KeyCap({ hint = false, children }: { hint?: boolean; children: ReactNode }) {
  return (
    <kbd
      className={`${hint ? "pointer-coarse:hidden" : ""} rounded-xs border border-b-2 border-hairline bg-page px-1 font-sans text-xs font-semibold text-graphite`}
    >
      {children}
    </kbd>
  );
}
