import { t } from "@lingui/core/macro";
import { useId } from "react";
import { KeyToggle } from "./key-toggle";
import { OptionRows } from "./options";
import { CreditChoice } from "./parts";
import type { ContentOf, EditorProps } from "./types";

export function SeveralAnswersEditor({ content, onChange }: EditorProps<ContentOf<"several_answers">>) {
  const name = useId();
  return (
    <>
      <OptionRows
        legend={t`Options: choose every one that is right`}
        options={content.options}
        keys={content.keys}
        onChange={(options) =>
          onChange({ ...content, options, keys: content.keys.filter((key) => options.some((o) => o.id === key)) })
        }
        toggle={(option, letter) => {
          const on = content.keys.includes(option.id);
          const keys = on ? content.keys.filter((key) => key !== option.id) : [...content.keys, option.id];
          return (
            <KeyToggle several letter={letter} on={on} name={name} onChoose={() => onChange({ ...content, keys })} />
          );
        }}
      />
      <CreditChoice value={content.credit} onChange={(credit) => onChange({ ...content, credit })} />
    </>
  );
}
