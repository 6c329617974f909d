import type { ReactNode } from "react";

type Props = { name: string; remark?: ReactNode; open?: boolean; children: ReactNode };

/** A part that most people do not need every time, under its name. */
export function Disclosure({ name, remark, open = false, children }: Props) {
  return (
    <details open={open} className="group/fold border-b border-hairline">
      <summary className="flex list-none items-baseline gap-3 py-2 text-sm">
        <span aria-hidden="true" className="text-graphite transition-transform group-open/fold:rotate-90">
          ▸
        </span>
        <strong>{name}</strong>
        {remark && <span className="min-w-0 truncate text-graphite">{remark}</span>}
      </summary>
      <div className="pb-3 ps-5">{children}</div>
    </details>
  );
}
