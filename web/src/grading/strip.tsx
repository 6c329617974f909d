import { t } from "@lingui/core/macro";
import { memo, useCallback, useEffect, useRef, useState } from "react";
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

const GROUP = 20;
const inGroups = (entries: Entry[]) =>
  Array.from({ length: Math.ceil(entries.length / GROUP) }, (_, at) => entries.slice(at * GROUP, (at + 1) * GROUP));

const SAYS: Record<Entry["state"], string> = { nothing: "—", waiting: "·", draft: "…", kept: "" };

/**
 * Everybody’s answer to one question in a single line below the page, however many there are: its number, and what it
 * has earned. It moves along with the marker; all of them at once are a key away.
 */
export function Strip({ entries, at, names, watched = false, colleagues, onGo }: Props) {
  const answers = useRef<HTMLDivElement>(null);
  const [all, setAll] = useState(false);
  useKeys({ l: () => setAll(true) });
  // biome-ignore lint/correctness/useExhaustiveDependencies: the line follows the marker, and nothing else moves it
  useEffect(() => {
    const box = answers.current;
    const here = box?.querySelector<HTMLElement>("[aria-current]");
    if (!box || !here) return;
    // What was out of sight has its place once it is asked for.
    const [line, place] = [box.getBoundingClientRect(), here.getBoundingClientRect()];
    box.scrollLeft += place.left + place.width / 2 - line.left - line.width / 2;
    if (box.contains(document.activeElement)) here.focus({ preventScroll: true });
  }, [at, entries.length]);
  const latest = useRef(onGo);
  latest.current = onGo;
  const go = useCallback((number: number) => {
    setAll(false);
    latest.current(number);
  }, []);
  const answer = (entry: Entry, focusable: boolean, wide: boolean) => (
    <Answer
      key={entry.number}
      number={entry.number}
      state={entry.state}
      marks={entry.marks}
      beside={entry.beside}
      again={entry.again}
      unsent={entry.unsent ?? false}
      name={names[entry.number] ?? ""}
      named={watched || wide}
      here={entry.number === at}
      focusable={focusable}
      wide={wide}
      colleagues={(colleagues[entry.number] ?? []).join("\n")}
      onGo={go}
    />
  );
  return (
    <div className="flex items-center gap-3 border-t border-hairline bg-page px-5 pt-2 pb-1" data-screen-only>
      <nav aria-label={t`Answers`} className="min-w-0 flex-1">
        <div ref={answers} className="relative flex overflow-x-auto px-1">
          {inGroups(entries).map((group) => (
            <div
              key={group[0]?.number}
              // What is out of sight is neither laid out nor painted with every key.
              className="flex shrink-0 gap-1.5 px-0.75 pt-2 pb-1 [contain-intrinsic-size:auto_57rem_auto_3.5rem] [content-visibility:auto]"
            >
              {group.map((entry) => answer(entry, entry.number === at, false))}
            </div>
          ))}
        </div>
      </nav>
      <Button keyHint="L" onClick={() => setAll(true)}>
        {t`All ${entries.length}`}
      </Button>
      <Dialog open={all} wide onClose={() => setAll(false)} title={t`All answers to this question`}>
        <div className="flex flex-wrap gap-1.5">{all && entries.map((entry) => answer(entry, true, true))}</div>
      </Dialog>
    </div>
  );
}

type AnswerProps = Pick<Entry, "number" | "state" | "marks" | "beside" | "again"> & {
  unsent: boolean;
  name: string;
  named: boolean;
  here: boolean;
  focusable: boolean;
  wide: boolean;
  /** One in a line. */
  colleagues: string;
  onGo: (number: number) => void;
};

/** One answer in the line. Drawn again only when something of it changes: with every key there may be four hundred. */
const Answer = memo(function Answer({ number, state, marks, name, here, colleagues, ...more }: AnswerProps) {
  const { beside, again, unsent, named, focusable, wide, onGo } = more;
  const atFirst = useRef(state);
  const justKept = state === "kept" && atFirst.current !== "kept";
  return (
    <button
      type="button"
      aria-current={here ? "true" : undefined}
      // One stop for the Tab key, whoever it is at; the arrows lead on from there.
      tabIndex={focusable ? 0 : -1}
      title={name}
      onClick={() => onGo(number)}
      className={`relative shrink-0 border px-1.5 py-0.5 text-center text-sm leading-tight ${wide ? "min-w-24" : "min-w-10"} ${here ? "border-ink bg-ink text-page" : "border-hairline bg-page hover:border-edge"}`}
    >
      {(named && name) || String(number).padStart(2, "0")}
      <strong className={`block ${justKept ? "animate-settle" : ""}`}>
        {beside ? "◐ " : ""}
        {again ? "↻ " : ""}
        {marks === null ? SAYS[state] : amount(marks, marks % 1 ? 1 : 0)}
        <span className="sr-only">
          {` ${inWords(state)}${beside ? t`, two marks` : ""}${again ? t`, to look at again` : ""}${unsent ? t`, not sent yet` : ""}`}
        </span>
        {unsent && <span aria-hidden="true">↑</span>}
      </strong>
      {(colleagues ? colleagues.split("\n") : []).map((name) => (
        <span key={name} className="absolute -top-2 -end-1 bg-plum px-1 text-xs leading-3.5 text-page" title={name}>
          {(name.split(" ").at(-1) ?? name).slice(0, 1)}
          <span className="sr-only">{t` ${name} is here`}</span>
        </span>
      ))}
    </button>
  );
});
