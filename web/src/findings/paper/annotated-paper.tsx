import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../../api/client";
import { ThirdsBar, ThirdsLegend } from "../../ui/charts/thirds-bar";
import { plain } from "../../ui/rich";
import { Region } from "../../ui/split-page";
import { figure, isNumbered, questionName } from "../../ui/words";
import { FlagSign } from "../flag-sign";

type Props = {
  body: Schemas["FindingsPageBody"];
  namesHidden: boolean;
  chosen: number | null;
  onChoose: (number: number) => void;
};

/** The paper with, beside each option, who chose it. */
export function AnnotatedPaper({ body, namesHidden, chosen, onChoose }: Props) {
  return (
    <Region
      name={t`The paper, as ${plural(body.test.students, { one: "# student", other: "# students" })} sat it`}
      remark={body.paper.some((question) => question.options.length > 0) && <ThirdsLegend />}
    >
      {body.paper.map((question) => (
        <PaperQuestion
          key={question.number}
          question={question}
          flags={body.flags.filter((flag) => flag.number === question.number)}
          most={body.test.students}
          namesHidden={namesHidden}
          open={question.number === chosen}
          onChoose={() => onChoose(question.number)}
        />
      ))}
    </Region>
  );
}

type QuestionProps = {
  question: Schemas["ReadQuestion"];
  flags: Schemas["FlagNote"][];
  most: number;
  namesHidden: boolean;
  open: boolean;
  onChoose: () => void;
};

function PaperQuestion({ question, flags, most, namesHidden, open, onChoose }: QuestionProps) {
  const { figures } = question;
  return (
    <article
      id={`question-${question.number}`}
      className={`relative -mx-6 border-b border-hairline border-s-3 px-6 py-3 ps-5 ${open ? "border-s-iris bg-iris-wash" : "border-s-transparent"}`}
    >
      <div className="flex gap-3">
        <div className="w-14 shrink-0 text-end text-sm leading-snug text-graphite">
          <p className="font-serif text-xl font-semibold text-ink wrap-anywhere">
            {isNumbered(question.label) ? question.label : question.number}
          </p>
          {figures ? (
            <>
              <p>{t`p ${figure(figures.p)}`}</p>
              <p>{t`D ${figure(figures.d_rest)}`}</p>
            </>
          ) : (
            <p className={question.asked ? "text-plum" : ""}>
              {question.asked
                ? t`to mark`
                : question.left_out
                  ? t`left out`
                  : question.waived
                    ? t`waived`
                    : t`not asked`}
            </p>
          )}
        </div>
        <div className="min-w-0 flex-1">
          {/* A name is no number: in the margin its words would break in the middle. */}
          {!isNumbered(question.label) && plain(question.stem) && (
            <p className="font-serif font-semibold wrap-anywhere">{question.label}</p>
          )}
          <button
            type="button"
            onClick={onChoose}
            aria-expanded={open}
            className="text-start font-serif text-base leading-snug after:absolute after:inset-0"
          >
            {plain(question.stem) || (question.kind === "marks_only" && questionName(question.label))}
          </button>
          <ol className={question.options.length > 0 ? "mt-1.5" : "hidden"}>
            {question.options.map((option, place) => (
              <li
                key={option.option}
                className="grid grid-cols-[7rem_1.6rem_1rem_1fr] items-baseline gap-x-2 py-0.5 text-sm"
              >
                <ThirdsBar thirds={question.traces[place]?.thirds ?? [0, 0, 0]} of={most} right={option.key} />
                <span className="text-end text-graphite">{option.seats.length}</span>
                <span className={option.key ? "font-semibold text-teal" : "text-graphite"}>
                  {option.option.length <= 2 && option.option}
                </span>
                <span className={`font-serif leading-snug ${option.key ? "font-semibold" : ""}`}>
                  {option.text}
                  {option.key && " ✓"}
                </span>
              </li>
            ))}
          </ol>
          {question.earned.length > 0 && <Earned earned={question.earned} marks={question.marks} />}
          {question.parts.length > 0 && <Parts parts={question.parts} />}
          {question.waived && (
            <p className="mt-1 text-sm text-graphite">{t`Waived in this sitting: out of the total and the figures.`}</p>
          )}
          {!figures && question.asked && (
            <p className="mt-1 text-sm text-plum">
              {namesHidden
                ? t`Its marks count once the names are shown; the figures leave this question out.`
                : t`Waiting for ${plural(question.waiting, { one: "# answer", other: "# answers" })} to be marked; the figures leave this question out.`}
            </p>
          )}
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

/** Of a question known by its marks alone: how many earned which, as bars that stand on a line from none to all. */
function Earned({ earned, marks }: { earned: Schemas["EarnedMark"][]; marks: number }) {
  const most = Math.max(...earned.map((one) => one.seats.length));
  return (
    <ol className="mt-1.5 flex flex-wrap items-end gap-1" aria-label={t`How many earned which mark`}>
      {earned.map((one) => (
        <li key={one.points} className="flex min-w-8 flex-col items-center text-xs leading-tight">
          <span className="text-graphite">{one.seats.length}</span>
          <span
            aria-hidden="true"
            className={`w-full ${one.points === marks ? "bg-teal" : "bg-edge/60"}`}
            style={{ height: `${Math.max(2, (28 * one.seats.length) / most)}px` }}
          />
          <span className={one.points === marks ? "font-semibold text-teal" : ""}>
            {one.points}
            <span className="sr-only"> {t`of ${marks}`}</span>
          </span>
        </li>
      ))}
    </ol>
  );
}

/** A question that says several things at once: each of them, with how many said it. */
function Parts({ parts }: { parts: Schemas["PaperOption"][] }) {
  return (
    <ol className="mt-1.5">
      {parts.map((part) => (
        <li
          key={part.part + part.option + part.text}
          className="grid grid-cols-[1.6rem_minmax(0,9rem)_1fr] items-baseline gap-x-2 py-0.5 text-sm"
        >
          <span className="text-end text-graphite">{part.seats.length}</span>
          <span className="truncate text-graphite">{part.part || part.option}</span>
          <span className={`font-serif leading-snug ${part.key ? "font-semibold text-teal" : ""}`}>
            {part.text}
            {part.key && " ✓"}
          </span>
        </li>
      ))}
    </ol>
  );
}
