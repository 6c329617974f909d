import { t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { TextInput } from "../ui/field";
import { useKeys } from "../ui/keys";

type Props = {
  what: string;
  /** What it is without a word: “Highlight”, “Just the frame”. */
  bare: string;
  onMake: (text: string) => void;
  onCancel: () => void;
};

/** What to do with what was just marked: highlight it, or say something about it. */
export function NoteBar({ what, bare, onMake, onCancel }: Props) {
  const [text, setText] = useState<string | null>(null);
  useKeys({ h: () => onMake(""), n: () => setText(""), Escape: onCancel });
  return (
    <div className="my-2 flex flex-wrap items-center gap-2 border border-ochre bg-ochre-wash px-3 py-2 text-sm">
      {text === null ? (
        <>
          <span className="min-w-0 flex-1 truncate">{what}</span>
          {/* A press must not take the selection away before it is used. */}
          <Button keyHint="H" onMouseDown={(event) => event.preventDefault()} onClick={() => onMake("")}>
            {bare}
          </Button>
          <Button
            keyHint="N"
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => setText("")}
          >{t`Note`}</Button>
        </>
      ) : (
        <form
          className="flex w-full gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            onMake(text);
          }}
        >
          <TextInput
            autoFocus
            aria-label={t`Note on ${what}`}
            maxLength={1000}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => event.key === "Escape" && onCancel()}
          />
          <Button type="submit" variant="main" disabled={!text.trim()}>{t`Keep`}</Button>
        </form>
      )}
    </div>
  );
}
