import type { ReactNode } from "react";

/** A long list in a place of its own, reached and scrolled by keyboard too. */
export function ScrollBox({ label, children }: { label: string; children: ReactNode }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a place that scrolls must be reachable by keyboard
    <section aria-label={label} tabIndex={0} className="mb-4 max-h-[46vh] overflow-y-auto">
      {children}
    </section>
  );
}
