import { t } from "@lingui/core/macro";
import { Rich } from "../../ui/rich";
import { Note, Pick } from "./parts";
import type { AnswerProps } from "./types";

export function ChoiceAnswer({ item, name, response, onRespond }: AnswerProps<"single_choice">) {
  return (
    <div className="grid grid-cols-1 gap-2.5">
      {item.options.map((option) => (
        <Pick
          key={option.id}
          type="radio"
          name={name}
          letter={option.letter}
          on={response?.option === option.id}
          onPick={() => onRespond({ kind: "single_choice", option: option.id })}
        >
          <Rich html={option.text} inline />
        </Pick>
      ))}
    </div>
  );
}

export function SeveralAnswer({ item, name, response, onRespond }: AnswerProps<"several_answers">) {
  const picked = response?.options ?? [];
  return (
    <>
      <div className="grid grid-cols-1 gap-2.5">
        {item.options.map((option) => (
          <Pick
            key={option.id}
            type="checkbox"
            name={name}
            letter={option.letter}
            on={picked.includes(option.id)}
            onPick={() => {
              const options = picked.includes(option.id)
                ? picked.filter((id) => id !== option.id)
                : [...picked, option.id];
              onRespond(options.length > 0 ? { kind: "several_answers", options } : null);
            }}
          >
            <Rich html={option.text} inline />
          </Pick>
        ))}
      </div>
      <Note>{t`Pick every answer that is right. There may be one or more.`}</Note>
    </>
  );
}

export function TrueFalseAnswer({ name, response, onRespond }: AnswerProps<"true_false">) {
  return (
    <div className="grid grid-cols-1 gap-2.5">
      {[true, false].map((value) => (
        <Pick
          key={String(value)}
          type="radio"
          name={name}
          letter={value ? "T" : "F"}
          on={response?.value === value}
          onPick={() => onRespond({ kind: "true_false", value })}
        >
          {value ? t`True` : t`False`}
        </Pick>
      ))}
    </div>
  );
}
