import type { components } from "./schema";

type Question = components["schemas"]["PaperItem"];
type Props = { question: Question; of: number; picked: string | null; onPick: (option: string) => void };

/** One question in large calm type; its options are radio buttons with a letter each. */
export function QuestionView({ question, of, picked, onPick }: Props) {
  const { item, number } = question;
  return (
    <fieldset>
      <legend className="contents">
        <span className="block text-xs font-semibold tracking-[0.09em] text-graphite uppercase">
          Question {number} of {of} · {item.marks} mark{item.marks === 1 ? "" : "s"}
        </span>
        <span className="mt-2 block font-serif text-2xl leading-snug whitespace-pre-line">{item.stem}</span>
      </legend>
      <div className="mt-4 grid gap-2.5">
        {item.options.map((option) => {
          const on = option.id === picked;
          return (
            <label
              key={option.id}
              className={`relative flex min-h-16 cursor-pointer items-center gap-3.5 rounded-xs border px-4 py-2 has-focus-visible:outline-2 has-focus-visible:outline-offset-2 has-focus-visible:outline-iris ${on ? "border-2 border-ink bg-page-2" : "border-edge/60"}`}
            >
              <input
                type="radio"
                className="absolute opacity-0"
                name={`question-${question.ref}`}
                checked={on}
                onChange={() => onPick(option.id)}
              />
              <span
                aria-hidden="true"
                className={`flex size-9 shrink-0 items-center justify-center rounded-full border border-ink font-serif font-semibold ${on ? "bg-ink text-page" : ""}`}
              >
                {option.letter}
              </span>
              <span className="font-serif text-xl leading-snug">{option.text}</span>
            </label>
          );
        })}
      </div>
    </fieldset>
  );
}
