import type { Schemas } from "../api/client";
import { ThirdsBar, ThirdsLegend } from "../ui/charts/thirds-bar";
import { Region } from "../ui/spread";
import { figure, many } from "../ui/words";
import { FlagSign } from "./flag-sign";

type Props = { body: Schemas["Body"]; chosen: number | null; onChoose: (number: number) => void };

/** The paper with, beside each option, who chose it. */
export function AnnotatedPaper({ body, chosen, onChoose }: Props) {
  return (
    <Region name={`The paper, as ${many(body.test.students, "student")} sat it`} remark={<ThirdsLegend />}>
      {body.paper.map((question) => (
        <PaperQuestion
          key={question.number}
          question={question}
          flags={body.flags.filter((flag) => flag.number === question.number)}
          most={body.test.students}
          open={question.number === chosen}
          onChoose={() => onChoose(question.number)}
        />
      ))}
    </Region>
  );
}

type QuestionProps = {
  question: Schemas["PaperQuestion"];
  flags: Schemas["FlagNote"][];
  most: number;
  open: boolean;
  onChoose: () => void;
};

function PaperQuestion({ question, flags, most, open, onChoose }: QuestionProps) {
  const { figures } = question;
  return (
    <article
      id={`question-${question.number}`}
      className={`relative -mx-6 border-b border-hairline border-l-3 px-6 py-3 pl-5 ${open ? "border-l-iris bg-iris-wash" : "border-l-transparent"}`}
    >
      <div className="flex gap-3">
        <div className="w-14 shrink-0 text-right text-sm leading-snug text-graphite">
          <p className="font-serif text-xl font-semibold text-ink">{question.number}</p>
          <p>p {figure(figures.p)}</p>
          <p>D {figure(figures.d)}</p>
        </div>
        <div className="min-w-0 flex-1">
          <button
            type="button"
            onClick={onChoose}
            aria-expanded={open}
            className="text-left font-serif text-base leading-snug after:absolute after:inset-0"
          >
            {question.stem}
          </button>
          <ol className="mt-1.5">
            {question.options.map((option, place) => (
              <li
                key={option.option}
                className="grid grid-cols-[7rem_1.6rem_1rem_1fr] items-baseline gap-x-2 py-0.5 text-sm"
              >
                <ThirdsBar thirds={question.traces[place]?.thirds ?? [0, 0, 0]} of={most} right={option.key} />
                <span className="text-right text-graphite">{option.seats.length}</span>
                <span className={option.key ? "font-semibold text-teal" : "text-graphite"}>{option.option}</span>
                <span className={`font-serif leading-snug ${option.key ? "font-semibold" : ""}`}>
                  {option.text}
                  {option.key && " ✓"}
                </span>
              </li>
            ))}
          </ol>
          {flags.length > 0 && (
            <p className="mt-1 flex flex-wrap gap-x-4 text-sm font-semibold">
              {flags.map((flag) => (
                <FlagSign key={flag.flag + flag.options.join()} flag={flag} />
              ))}
            </p>
          )}
        </div>
      </div>
    </article>
  );
}
