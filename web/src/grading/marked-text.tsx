import { t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";
import { selectedIn, writeLit } from "../ui/stretches";
import { NoteBar } from "./note-bar";
import type { Remark, Remarks } from "./use-remarks";

type Props = { html: string; remarks: Remark[]; onMake: Remarks["make"] };

/** What was typed, with what its marker highlighted; select some of it to say something about it. */
export function MarkedText({ html, remarks, onMake }: Props) {
  const holder = useRef<HTMLDivElement>(null);
  const [chosen, setChosen] = useState<{ start: number; end: number } | null>(null);
  useEffect(() => {
    if (!holder.current) return;
    const stretches = remarks.flatMap(({ place, text }) =>
      place.kind === "stretch" ? [{ start: place.start, end: place.end, name: text }] : [],
    );
    writeLit(holder.current, html, stretches);
  }, [html, remarks]);
  useEffect(() => {
    const look = () => {
      const found = holder.current && selectedIn(holder.current);
      // Whoever clicks into the field of the note has lost the selection, and still means it.
      if (found) setChosen(found);
    };
    document.addEventListener("selectionchange", look);
    return () => document.removeEventListener("selectionchange", look);
  }, []);
  const done = () => {
    setChosen(null);
    getSelection()?.removeAllRanges();
  };
  const words = chosen && (holder.current?.textContent ?? "").slice(chosen.start, chosen.end);
  return (
    <>
      <div ref={holder} className="rich font-serif text-lg leading-relaxed wrap-anywhere" />
      {chosen && words && (
        <NoteBar
          key={`${chosen.start} ${chosen.end}`}
          what={`“${words.trim()}”`}
          bare={t`Highlight`}
          onMake={(text) => {
            onMake({ kind: "stretch", ...chosen }, text);
            done();
          }}
          onCancel={done}
        />
      )}
    </>
  );
}
