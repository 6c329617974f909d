import { plural, t } from "@lingui/core/macro";
import { useContext } from "react";
import { directionOf, language } from "../language/locales";
import { ContentLanguage, Rich } from "../ui/rich";
import { Answer } from "./kinds";
import type { Question, Response } from "./kinds/types";
import { ReadAloud } from "./read-aloud";

type Props = {
  question: Question;
  of: number;
  response: Response | null;
  onRespond: (response: Response | null) => void;
  /** Whether a button reads the question aloud. */
  readAloud?: boolean;
  /** What it is about, which is read with it. */
  stimulus?: { title: string; body: string } | null;
};

/** One question in large calm type, with the place to answer it. */
export function QuestionView({ question, of, response, onRespond, readAloud = false, stimulus = null }: Props) {
  const { item, number } = question;
  // The test has its own language, and its letters stand where that language is read from.
  const lang = useContext(ContentLanguage) ?? language();
  return (
    <fieldset className="min-w-0" dir={directionOf(lang)}>
      <legend className="contents">
        <span
          dir={directionOf(language())}
          className="block text-xs font-semibold tracking-[0.09em] text-graphite uppercase"
        >
          {t`Question ${number} of ${of} · ${plural(item.marks, { one: "# mark", other: "# marks" })}`}
        </span>
        <span className="mt-2 block font-serif text-2xl leading-snug">
          <Rich html={item.stem} inline={!item.stem.startsWith("<")} className="whitespace-pre-line" />
        </span>
      </legend>
      {readAloud && <ReadAloud item={item} stimulus={stimulus} />}
      <div className="mt-4">
        <Answer item={item} name={question.ref} response={response} onRespond={onRespond} />
      </div>
    </fieldset>
  );
}
