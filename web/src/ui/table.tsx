import type { ReactNode } from "react";

type TableProps = {
  caption: string;
  heads: { label: string; right?: boolean; silent?: boolean }[];
  children: ReactNode;
};

/** A table of hairlines; the caption is for screen readers, since a region already names it for the eye. */
export function Table({ caption, heads, children }: TableProps) {
  return (
    <table className="w-full border-collapse text-sm">
      <caption className="sr-only">{caption}</caption>
      <thead>
        <tr className="border-b border-hairline text-xs text-graphite">
          {heads.map((head, at) => (
            <th
              // biome-ignore lint/suspicious/noArrayIndexKey: two columns may be called the same
              key={at}
              scope="col"
              className={`py-1.5 pe-3 font-semibold ${head.right ? "text-end" : "text-start"}`}
            >
              {head.silent ? <span className="sr-only">{head.label}</span> : head.label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

type RowProps = {
  children: ReactNode;
  selected?: boolean;
};

export function Row({ children, selected: lit = false }: RowProps) {
  return <tr className={`border-b border-hairline ${lit ? "bg-plum-wash" : ""}`}>{children}</tr>;
}

export function Cell({ children, right = false }: { children?: ReactNode; right?: boolean }) {
  return <td className={`py-1.5 pe-3 ${right ? "text-end" : ""}`}>{children}</td>;
}
