import { Tooltip } from "radix-ui";
import type { ReactNode } from "react";

/** A figure with its one-line meaning at hand, by pointer or by Tab. */
export function Hint({ says, children }: { says: string; children: ReactNode }) {
  return (
    <Tooltip.Provider delayDuration={150}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>
          <button type="button" className="cursor-help">
            {children}
          </button>
        </Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content sideOffset={6} className="z-50 max-w-72 border border-edge bg-page px-3 py-2 text-sm">
            {says}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  );
}
