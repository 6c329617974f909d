import type { ReactNode } from "react";

/** How a page is looked at, chosen above what is looked at; on paper only what came of it is there. */
export function Tools({ children }: { children: ReactNode }) {
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-2" data-screen-only>
      {children}
    </div>
  );
}
