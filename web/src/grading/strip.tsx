import { t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";
import { Button } from "../ui/button";
import { inWords } from "../ui/code-words";
import { Dialog } from "../ui/dialog";
import { useKeys } from "../ui/keys";
import { amount } from "../ui/words";
import type { Entry } from "./sequence";

type Props = {
  entries: Entry[];
  at: number;
  names: Record<string, string>;
  /** With names rather than numbers: who watches a task looks for a face. */
  watched?: boolean;
  /** Who else is at work, by the number they are at. */
  colleagues: Record<number, string[]>;
  onGo: (number: number) => void;
};

const SAYS: Record<Entry["state"], string> = { nothing: "—", waiting: "·", draft: "…", kept: "" };

/**
 * Everybody’s answer to one question in a single line below the page, however many there are: its number, and what it
 * has earned. It moves along with the marker; all of them at once are a key away.
 */
export function Strip({ entries, at, names, watched = false, colleagues, onGo }: Props) {
  const line = useRef<HTMLDivElement>(null);
  const [all, setAll] = useState(false);
  useKeys({ l: () => setAll(true) });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the line follows the marker, and nothing else moves it
  useEffect(() => {
    const box = line.current;
    const here = box?.querySelector<HTMLElement>("[aria-current]");
    if (!box || !here) return;
    box.scrollLeft = here.offsetLeft - box.offsetLeft - (box.clientWidth - here.offsetWidth) / 2;
    if (box.contains(document.activeElement)) here.focus({ preventScroll: true });
  }, [at, entries.length]);
  const answer = (entry: Entry, focusable: boolean, wide: boolean) => (
    <button
      key={entry.number}
      type="button"
      aria-current={entry.number === at ? "true" : undefined}
      // One stop for the Tab key, whoever it is at; the arrows lead on from there.
      tabIndex={focusable ? 0 : -1}
      title={names[entry.number] ?? ""}
      onClick={() => {
        setAll(false);
        onGo(entry.number);
      }}
      className={`relative shrink-0 border px-1.5 py-0.5 text-center text-sm leading-tight ${wide ? "min-w-24" : "min-w-10"} ${entry.number === at ? "border-ink bg-ink text-page" : "border-hairline bg-page hover:border-edge"}`}
    >
      {((watched || wide) && names[entry.number]) || String(entry.number).padStart(2, "0")}
      <strong className="block">
        {entry.beside ? "◐ " : ""}
        {entry.again ? "↻ " : ""}
        {entry.marks === null ? SAYS[entry.state] : amount(entry.marks, entry.marks % 1 ? 1 : 0)}
        <span className="sr-only">
          {` ${inWords(entry.state)}${entry.beside ? t`, two marks` : ""}${entry.again ? t`, to look at again` : ""}${entry.unsent ? t`, not sent yet` : ""}`}
        </span>
        {entry.unsent && <span aria-hidden="true">↑</span>}
      </strong>
      {(colleagues[entry.number] ?? []).map((name) => (
        <span key={name} className="absolute -top-2 -end-1 bg-plum px-1 text-xs leading-3.5 text-page" title={name}>
          {(name.split(" ").at(-1) ?? name).slice(0, 1)}
          <span className="sr-only">{t` ${name} is here`}</span>
        </span>
      ))}
    </button>
  );
  return (
    <div className="flex items-center gap-3 border-t border-hairline bg-page px-5 py-2" data-screen-only>
      <nav aria-label={t`Answers`} className="min-w-0 flex-1">
        <div ref={line} className="relative flex gap-1.5 overflow-x-auto px-1 pt-2">
          {entries.map((entry) => answer(entry, entry.number === at, false))}
        </div>
      </nav>
      <Button keyHint="L" onClick={() => setAll(true)}>
        {t`All ${entries.length}`}
      </Button>
      <Dialog open={all} wide onClose={() => setAll(false)} title={t`All answers to this question`}>
        <div className="flex flex-wrap gap-1.5">{entries.map((entry) => answer(entry, true, true))}</div>
      </Dialog>
    </div>
  );
}
