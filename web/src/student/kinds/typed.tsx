import { plural, t } from "@lingui/core/macro";
import { Note, TypedLine } from "./parts";
import { Rubric } from "./rubric";
import type { AnswerProps } from "./types";

export function NumericAnswer({ item, name, response, onRespond }: AnswerProps<"numeric">) {
  return (
    <>
      <p className="flex items-center gap-3">
        <TypedLine
          key={name}
          aria-label={item.unit_wanted ? t`Your answer, with its unit` : t`Your answer, a number`}
          inputMode={item.unit_wanted ? "text" : "decimal"}
          maxLength={60}
          className="w-56 min-w-0"
          value={response?.text ?? ""}
          onGive={(text) => onRespond(text.trim() ? { kind: "numeric", text } : null)}
        />
        {item.unit && <span className="font-serif text-xl">{item.unit}</span>}
      </p>
      <Note>{item.unit_wanted ? t`Write the number with its unit.` : t`Write a number.`}</Note>
    </>
  );
}

export function ShortTextAnswer({ name, response, onRespond }: AnswerProps<"short_text">) {
  return (
    <TypedLine
      key={name}
      aria-label={t`Your answer`}
      maxLength={300}
      className="w-full"
      value={response?.text ?? ""}
      onGive={(text) => onRespond(text.trim() ? { kind: "short_text", text } : null)}
    />
  );
}

export function ExpressionAnswer({ name, response, onRespond }: AnswerProps<"expression">) {
  return (
    <>
      <TypedLine
        key={name}
        aria-label={t`Your answer, an expression`}
        maxLength={200}
        className="w-full"
        value={response?.text ?? ""}
        onGive={(text) => onRespond(text.trim() ? { kind: "expression", text } : null)}
      />
      <Note>{t`For example 2x(y + 1), a^2/3 or sqrt(2). Any form of the same value counts.`}</Note>
    </>
  );
}

export function PerformanceAnswer({ item }: AnswerProps<"performance">) {
  return (
    <>
      <Rubric rubric={item.rubric ?? null} />
      <Note>
        {t`There is nothing to write here: your teacher listens or watches`}
        {item.minutes > 0 && t`, for about ${plural(item.minutes, { one: "# minute", other: "# minutes" })}`}.
      </Note>
    </>
  );
}
