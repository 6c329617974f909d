import { t } from "@lingui/core/macro";
import { useId } from "react";
import { KeyToggle } from "./key-toggle";
import { OptionRows } from "./options";
import type { ContentOf, EditorProps } from "./types";

export function SingleChoiceEditor({ content, onChange }: EditorProps<ContentOf<"single_choice">>) {
  const name = useId();
  return (
    <OptionRows
      legend={t`Options: choose the key by its letter`}
      options={content.options}
      keys={content.key ? [content.key] : []}
      onChange={(options) =>
        onChange({ ...content, options, key: options.some((o) => o.id === content.key) ? (content.key ?? null) : null })
      }
      toggle={(option, letter) => (
        <KeyToggle
          letter={letter}
          on={content.key === option.id}
          name={name}
          onChoose={() => onChange({ ...content, key: option.id })}
        />
      )}
    />
  );
}
