import { t } from "@lingui/core/macro";
import { Button } from "../../ui/button";
import { Choice } from "../../ui/field";
import { changed } from "../../ui/lists";
import { plain } from "../../ui/rich";
import { TakeOut } from "../../ui/take-out";
import { CreditChoice, IdeaNote, letterOf, newId, RichLine } from "./parts";
import type { ContentOf, EditorProps } from "./types";

type Matching = ContentOf<"matching">;

export function MatchingEditor({ content, onChange }: EditorProps<Matching>) {
  const { rows, choices } = content;
  const set = (part: Partial<Matching>) => onChange({ ...content, ...part });
  return (
    <>
      <fieldset className="mb-4">
        <legend className="mb-2 text-sm font-semibold">{t`Choices: what the rows are matched with`}</legend>
        {choices.map((choice, at) => (
          <div key={choice.id} className="mb-2 flex items-start gap-2.5">
            <span className="w-6 shrink-0 pt-1.5 text-end font-serif font-semibold">{letterOf(at)}</span>
            <div className="min-w-0 flex-1">
              <RichLine
                label={t`Choice ${letterOf(at)}`}
                value={choice.text}
                onChange={(text) => set({ choices: changed(choices, choice.id, { text }) })}
              />
              <IdeaNote
                lead={t`in a wrong row shows that`}
                label={t`What choice ${letterOf(at)} in a wrong row shows`}
                value={choice.idea_note}
                onChange={(idea_note) => set({ choices: changed(choices, choice.id, { idea_note }) })}
              />
            </div>
            {choices.length > 2 && (
              <TakeOut
                what={t`choice ${letterOf(at)}`}
                onTake={() =>
                  set({
                    choices: choices.filter((other) => other.id !== choice.id),
                    rows: rows.map((row) => (row.key === choice.id ? { ...row, key: null } : row)),
                  })
                }
              />
            )}
          </div>
        ))}
        {choices.length < 15 && (
          <Button
            onClick={() => set({ choices: [...choices, { id: newId(), text: "", idea_note: "" }] })}
          >{t`Add a choice`}</Button>
        )}
      </fieldset>
      <fieldset className="mb-4">
        <legend className="mb-2 text-sm font-semibold">{t`Rows, each with its partner`}</legend>
        {rows.map((row, at) => (
          <div key={row.id} className="mb-2 flex flex-wrap items-start gap-2.5 sm:flex-nowrap">
            <span className="w-6 shrink-0 pt-1.5 text-end font-serif font-semibold">{at + 1}</span>
            <div className="min-w-40 flex-1">
              <RichLine
                label={t`Row ${at + 1}`}
                value={row.text}
                onChange={(text) => set({ rows: changed(rows, row.id, { text }) })}
              />
            </div>
            <Choice
              aria-label={t`Partner of row ${at + 1}`}
              className="w-40! shrink-0"
              value={row.key ?? ""}
              onChange={(event) => set({ rows: changed(rows, row.id, { key: event.target.value || null }) })}
            >
              <option value="">{t`partner…`}</option>
              {choices.map((choice, place) => (
                <option key={choice.id} value={choice.id}>
                  {letterOf(place)} {plain(choice.text)}
                </option>
              ))}
            </Choice>
            {rows.length > 1 && (
              <TakeOut
                what={t`row ${at + 1}`}
                onTake={() => set({ rows: rows.filter((other) => other.id !== row.id) })}
              />
            )}
          </div>
        ))}
        {rows.length < 12 && (
          <Button onClick={() => set({ rows: [...rows, { id: newId(), text: "", key: null }] })}>{t`Add a row`}</Button>
        )}
      </fieldset>
      <CreditChoice value={content.credit} onChange={(credit) => set({ credit })} />
    </>
  );
}
