import { t } from "@lingui/core/macro";
import { useId } from "react";
import { Field, TextInput } from "../../ui/field";
import { KeyToggle } from "./key-toggle";
import type { ContentOf, EditorProps } from "./types";

export function TrueFalseEditor({ content, onChange }: EditorProps<ContentOf<"true_false">>) {
  const name = useId();
  return (
    <>
      <fieldset className="mb-4">
        <legend className="mb-2 text-sm font-semibold">{t`The statement is`}</legend>
        {[true, false].map((value) => (
          <div key={String(value)} className="mb-2 flex items-center gap-2.5">
            <KeyToggle
              letter={value ? "T" : "F"}
              on={content.key === value}
              name={name}
              onChoose={() => onChange({ ...content, key: value })}
            />
            <span className="font-serif">{value ? t`True` : t`False`}</span>
          </div>
        ))}
      </fieldset>
      <Field label={t`Whoever gets it wrong seems to think that`}>
        {(id) => (
          <TextInput
            id={id}
            className="border-dashed! text-plum"
            maxLength={500}
            placeholder="…"
            value={content.idea_note ?? ""}
            onChange={(event) => onChange({ ...content, idea_note: event.target.value })}
          />
        )}
      </Field>
    </>
  );
}
