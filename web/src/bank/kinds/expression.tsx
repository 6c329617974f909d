import { t } from "@lingui/core/macro";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { Field, TextInput } from "../../ui/field";
import { changedAt } from "../../ui/lists";
import { TakeOut } from "../../ui/take-out";
import { IdeaNote } from "./parts";
import type { ContentOf, EditorProps } from "./types";

type Expression = ContentOf<"expression">;

export function ExpressionEditor({ content, onChange }: EditorProps<Expression>) {
  const set = (part: Partial<Expression>) => onChange({ ...content, ...part });
  return (
    <>
      <div className="grid gap-x-6 sm:grid-cols-2">
        <Field
          label={t`The key`}
          hint={t`As students type it: 2x(y + 1), a^2/3, sqrt(2). Anything of the same value is right.`}
        >
          {(id) => (
            <TextInput
              id={id}
              className="font-serif"
              maxLength={200}
              value={content.key}
              onChange={(event) => set({ key: event.target.value })}
            />
          )}
        </Field>
        <Field
          label={t`Names of more than one letter`}
          hint={t`Apart by spaces: Rtot Ieff. Letters like e go here too.`}
        >
          {(id) => (
            <TextInput
              id={id}
              defaultValue={content.names.join(" ")}
              onBlur={(event) => set({ names: event.target.value.split(/[\s,]+/).filter(Boolean) })}
            />
          )}
        </Field>
      </div>
      <Checkbox
        label={t`letters stand for positive numbers, so that √(x²) is x`}
        checked={content.positive}
        onChange={(positive) => set({ positive })}
      />
      <fieldset className="my-4">
        <legend className="mb-2 text-sm font-semibold">{t`Wrong answers that show an idea`}</legend>
        {content.wrong.map((wrong, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a wrong answer has no name but its place
          <div key={at} className="mb-2">
            <div className="flex items-center gap-2">
              <TextInput
                aria-label={t`Wrong answer ${at + 1}`}
                className="font-serif"
                maxLength={200}
                value={wrong.formula}
                onChange={(event) => set({ wrong: changedAt(content.wrong, at, { formula: event.target.value }) })}
              />
              <TakeOut
                what={t`wrong answer ${at + 1}`}
                onTake={() => set({ wrong: content.wrong.filter((_, other) => other !== at) })}
              />
            </div>
            <IdeaNote
              label={t`What wrong answer ${at + 1} shows`}
              value={wrong.idea_note}
              onChange={(idea_note) => set({ wrong: changedAt(content.wrong, at, { idea_note }) })}
            />
          </div>
        ))}
        {content.wrong.length < 8 && (
          <Button
            onClick={() => set({ wrong: [...content.wrong, { formula: "", idea_note: "" }] })}
          >{t`Add a wrong answer`}</Button>
        )}
      </fieldset>
    </>
  );
}
