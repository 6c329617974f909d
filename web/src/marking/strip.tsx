import { amount } from "../ui/words";
import type { Entry } from "./sequence";

type Props = {
  entries: Entry[];
  at: number;
  names: Record<string, string>;
  /** With names rather than numbers: who watches a task looks for a face. */
  watched?: boolean;
  onGo: (number: number) => void;
};

const SAYS: Record<Entry["state"], string> = { nothing: "—", waiting: "·", draft: "…", kept: "" };

/** Everybody’s answer to one question in a line: its number, and what it has earned. */
export function Strip({ entries, at, names, watched = false, onGo }: Props) {
  return (
    <nav aria-label="Answers" className="my-4 flex flex-wrap gap-1.5">
      {entries.map((entry) => (
        <button
          key={entry.number}
          type="button"
          aria-current={entry.number === at ? "true" : undefined}
          disabled={entry.state === "nothing"}
          title={names[entry.number] ?? ""}
          onClick={() => onGo(entry.number)}
          className={`min-w-10 border px-1.5 py-0.5 text-center text-sm leading-tight ${entry.number === at ? "border-ink bg-ink text-page" : "border-hairline bg-page disabled:text-graphite"}`}
        >
          {(watched && names[entry.number]) || String(entry.number).padStart(2, "0")}
          <strong className="block">
            {entry.marks === null ? SAYS[entry.state] : amount(entry.marks, entry.marks % 1 ? 1 : 0)}
            <span className="sr-only">{` ${entry.state}`}</span>
          </strong>
        </button>
      ))}
    </nav>
  );
}
