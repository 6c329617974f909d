import { t } from "@lingui/core/macro";
import { type Ref, useState } from "react";
import { Button } from "../ui/button";
import { Field, TextArea } from "../ui/field";
import { KeyCap } from "../ui/key-cap";
import { useDictation } from "../ui/use-dictation";
import { begun, offered, withComment } from "./comment-lines";

type Props = {
  value: string;
  known: string[];
  field: Ref<HTMLTextAreaElement>;
  /** With the places of a comment filled. */
  fill: (comment: string) => string;
  onChange: (text: string) => void;
  onKeep: () => void;
};

/** A comment to the student; what was said before on this question comes back by a few of its letters. */
export function Comment({ value, known, field, fill, onChange, onKeep }: Props) {
  const [typing, setTyping] = useState(false);
  const typed = begun(value, known);
  const fits = offered(value, known);
  const dictation = useDictation(document.documentElement.lang || "en", (words) =>
    onChange(value && !/\s$/.test(value) ? `${value} ${words}` : value + words),
  );
  const take = (text: string) => onChange(withComment(value, known, fill(text)));
  return (
    <>
      <Field label={t`Comment`}>
        {(id) => (
          <TextArea
            id={id}
            ref={field}
            rows={2}
            maxLength={4000}
            value={value}
            onFocus={() => setTyping(true)}
            onBlur={() => setTyping(false)}
            onChange={(event) => onChange(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Escape") event.currentTarget.blur();
              if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) onKeep();
              if (event.key === "Tab" && !event.shiftKey && typed && fits[0]) {
                event.preventDefault();
                take(fits[0]);
              }
            }}
          />
        )}
      </Field>
      {dictation.can && (
        <Button
          variant="quiet"
          aria-pressed={dictation.listens}
          onClick={dictation.listens ? dictation.stop : dictation.start}
        >
          {dictation.listens ? t`Stop dictating` : t`Dictate`}
        </Button>
      )}
      {fits.length > 0 && (
        <section aria-label={t`Your comments on this question`} className="flex flex-wrap items-center gap-1.5">
          {typing && typed && <KeyCap>{t`Tab`}</KeyCap>}
          {fits.map((fit) => (
            <button
              key={fit}
              type="button"
              className="border border-hairline bg-page px-2 py-0.5 text-start text-sm hover:border-edge"
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => take(fit)}
            >
              {fit}
            </button>
          ))}
        </section>
      )}
    </>
  );
}
