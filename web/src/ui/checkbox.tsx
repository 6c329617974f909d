import type { ReactNode } from "react";

type TickProps = { label: ReactNode; checked: boolean; onChange: (checked: boolean) => void };

/** A box to tick with its words. */
export function Checkbox({ label, checked, onChange }: TickProps) {
  return (
    <label className="flex min-h-7 items-center gap-2 text-sm">
      <input
        type="checkbox"
        className="size-4 accent-[var(--ink)]"
        checked={checked}
        onChange={(event) => onChange(event.target.checked)}
      />
      {label}
    </label>
  );
}
