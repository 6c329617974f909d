import type { ReactNode } from "react";

/** A key as it stands beside what it does. */
export function KeyCap({ children }: { children: ReactNode }) {
  return (
    <kbd className="rounded-xs border border-b-2 border-hairline bg-page px-1 font-sans text-xs font-semibold text-graphite">
      {children}
    </kbd>
  );
}
