import { t } from "@lingui/core/macro";
import { ArrowDown, ArrowUp } from "lucide-react";
import { Button } from "../../ui/button";
import { Choice, Field } from "../../ui/field";
import { changed } from "../../ui/lists";
import { TakeOut } from "../../ui/take-out";
import { newId, RichLine } from "./parts";
import type { ContentOf, EditorProps } from "./types";

type Ordering = ContentOf<"ordering">;

export function OrderingEditor({ content, onChange }: EditorProps<Ordering>) {
  const { entries } = content;
  const move = (at: number, by: number) => {
    const moved = entries.toSpliced(at, 1);
    const entry = entries[at];
    if (entry) onChange({ ...content, entries: moved.toSpliced(at + by, 0, entry) });
  };
  return (
    <>
      <fieldset className="mb-4">
        <legend className="mb-2 text-sm font-semibold">{t`Entries, in the right order; students see them mixed`}</legend>
        {entries.map((entry, at) => (
          <div key={entry.id} className="mb-2 flex items-start gap-2">
            <span className="w-6 shrink-0 pt-1.5 text-end font-serif font-semibold">{at + 1}</span>
            <div className="min-w-0 flex-1">
              <RichLine
                label={t`Entry ${at + 1}`}
                value={entry.text}
                onChange={(text) => onChange({ ...content, entries: changed(entries, entry.id, { text }) })}
              />
            </div>
            <Button
              variant="quiet"
              aria-label={t`Move entry ${at + 1} up`}
              disabled={at === 0}
              onClick={() => move(at, -1)}
            >
              <ArrowUp className="size-4" aria-hidden="true" />
            </Button>
            <Button
              variant="quiet"
              aria-label={t`Move entry ${at + 1} down`}
              disabled={at === entries.length - 1}
              onClick={() => move(at, 1)}
            >
              <ArrowDown className="size-4" aria-hidden="true" />
            </Button>
            {entries.length > 2 && (
              <TakeOut
                what={t`entry ${at + 1}`}
                onTake={() => onChange({ ...content, entries: entries.filter((other) => other.id !== entry.id) })}
              />
            )}
          </div>
        ))}
        {entries.length < 12 && (
          <Button
            onClick={() => onChange({ ...content, entries: [...entries, { id: newId(), text: "" }] })}
          >{t`Add an entry`}</Button>
        )}
      </fieldset>
      <Field label={t`Part marks`}>
        {(id) => (
          <Choice
            id={id}
            value={content.credit}
            onChange={(event) => onChange({ ...content, credit: event.target.value as Ordering["credit"] })}
          >
            <option value="all">{t`all or nothing`}</option>
            <option value="places">{t`a share for each entry in its place`}</option>
            <option value="pairs">{t`by how many pairs stand in the right order`}</option>
          </Choice>
        )}
      </Field>
    </>
  );
}
