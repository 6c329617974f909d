import { t } from "@lingui/core/macro";
import { useContext, useEffect, useRef, useState } from "react";
import { formulasFor } from "../ui/formulas-for";
import { ContentLanguage } from "../ui/rich";
import type { Item } from "./kinds/types";
import { spoken } from "./spoken";

const SPEED = "verso.speech.speed";
const SPEEDS: Record<string, () => string> = {
  "0.7": () => t`slowly`,
  "1": () => t`at its pace`,
  "1.3": () => t`fast`,
};

/** Which part is read, and from where to where the word at hand goes in it. */
type At = { part: number; from: number; to: number };
type Props = { item: Item; stimulus: { title: string; body: string } | null };

/** Reads a question with the voice of the student's own device; nothing leaves it. The word at hand is marked. */
export function ReadAloud({ item, stimulus }: Props) {
  const lang = useContext(ContentLanguage);
  const [parts, setParts] = useState<string[]>([]);
  const [at, setAt] = useState<At | null>(null);
  const [speed, setSpeed] = useState(() => localStorage.getItem(SPEED) ?? "1");
  // What was asked to stop still says that it ended.
  const turn = useRef(0);
  const stop = () => {
    turn.current += 1;
    globalThis.speechSynthesis?.cancel();
    setAt(null);
  };
  useEffect(
    () => () => {
      turn.current += 1;
      globalThis.speechSynthesis?.cancel();
    },
    [],
  );
  if (!("speechSynthesis" in globalThis)) return null;
  const start = async () => {
    stop();
    const mine = turn.current;
    const text = `${JSON.stringify(item)}${stimulus?.body ?? ""}`;
    // Where it cannot be fetched, as without a connection, a formula is read as it was typed.
    const inWords = text.includes("$")
      ? await Promise.all([import("./formula-words"), formulasFor(text)])
          .then(([{ formulaInWords }]) => formulaInWords)
          .catch(() => (tex: string) => tex)
      : (tex: string) => tex;
    if (mine !== turn.current) return;
    const read = spoken(item, stimulus, inWords);
    setParts(read);
    for (const [part, text] of read.entries()) {
      const words = new SpeechSynthesisUtterance(text);
      if (lang) words.lang = lang;
      words.rate = Number(speed);
      const go = (from: number, length: number) => {
        if (mine === turn.current) setAt({ part, from, to: from + length });
      };
      words.onstart = () => go(0, 0);
      words.onboundary = ({ charIndex, charLength }) =>
        go(charIndex, charLength || (/^\S*/.exec(text.slice(charIndex))?.[0].length ?? 0));
      if (part === read.length - 1) words.onend = () => mine === turn.current && setAt(null);
      words.onerror = () => mine === turn.current && setAt(null);
      speechSynthesis.speak(words);
    }
  };
  const here = at ? (parts[at.part] ?? "") : "";
  const button = "min-h-11 rounded-xs border border-edge/60 px-4";
  return (
    <div className="mt-3">
      <p className="flex flex-wrap items-center gap-2.5">
        <button type="button" className={button} onClick={at ? stop : () => void start()}>
          {at ? t`Stop reading` : t`Read it to me`}
        </button>
        <select
          aria-label={t`How fast it is read`}
          className={button}
          value={speed}
          onChange={(event) => {
            localStorage.setItem(SPEED, event.target.value);
            setSpeed(event.target.value);
            if (at) stop();
          }}
        >
          {Object.entries(SPEEDS).map(([value, name]) => (
            <option key={value} value={value}>
              {name()}
            </option>
          ))}
        </select>
      </p>
      {at && (
        // It is heard, so that whoever hears the page need not hear it twice.
        <p aria-hidden="true" dir="auto" lang={lang} className="mt-2 border-s-2 border-iris ps-3 font-serif text-lg">
          {here.slice(0, at.from)}
          <mark className="bg-ochre-wash text-ink">{here.slice(at.from, at.to)}</mark>
          {here.slice(at.to)}
        </p>
      )}
    </div>
  );
}
