import { t } from "@lingui/core/macro";
import { type ReactNode, useState } from "react";
import { Button } from "./button";
import { Field, TextInput } from "./field";
import { Chip } from "./split-page";

type Props = {
  label: string;
  words: string[];
  /** What there is already, offered while typing. */
  known: string[];
  onChange: (words: string[]) => void;
  hint?: ReactNode;
};

/** Words chosen from those there are, or new ones by typing them. */
export function WordPicker({ label, words, known, onChange, hint }: Props) {
  const [typed, setTyped] = useState("");
  const add = (word: string) => {
    const clean = word.trim();
    if (clean && !words.includes(clean)) onChange([...words, clean]);
    setTyped("");
  };
  return (
    <Field label={label} hint={words.length === 0 ? hint : undefined}>
      {(id) => (
        <div className="flex flex-wrap items-center gap-2">
          {words.map((word) => (
            <Chip key={word}>
              {word}{" "}
              <Button
                variant="quiet"
                className="min-h-0!"
                aria-label={t`Take off ${word}`}
                onClick={() => onChange(words.filter((other) => other !== word))}
              >
                ×
              </Button>
            </Chip>
          ))}
          <TextInput
            id={id}
            className="w-52!"
            list={`${id}-known`}
            maxLength={120}
            value={typed}
            onChange={(event) =>
              known.includes(event.target.value) ? add(event.target.value) : setTyped(event.target.value)
            }
            onBlur={() => add(typed)}
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              event.preventDefault();
              add(typed);
            }}
          />
          <datalist id={`${id}-known`}>
            {known
              .filter((word) => !words.includes(word))
              .map((word) => (
                <option key={word} value={word} />
              ))}
          </datalist>
        </div>
      )}
    </Field>
  );
}
