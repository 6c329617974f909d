import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Bar } from "../ui/bar";
import { Button } from "../ui/button";
import { Region } from "../ui/split-page";
import { percent, timeOf } from "../ui/words";
import { Compared } from "./compared";

type Props = { question: Schemas["QuestionRecord"]; onClose: () => void };

/** One question of a lesson: what the class said in each round, beside each other, and who moved. */
export function QuestionRounds({ question, onClose }: Props) {
  return (
    <>
      <div className="mb-3 flex items-baseline justify-between gap-3">
        <p className="text-xs font-semibold tracking-[0.09em] text-graphite uppercase">{t`Question ${question.number}`}</p>
        <Button variant="quiet" keyHint="W" onClick={onClose}>{t`Whole lesson`}</Button>
      </div>
      <h2 className="mb-4 font-serif text-xl leading-tight font-semibold">
        {question.words || t`A quick question, asked aloud`}
      </h2>
      {question.rounds.map((round) => (
        <Region
          key={round.number}
          name={question.rounds.length > 1 ? t`Round ${round.number}` : t`Answers`}
          remark={`${plural(round.answered, { one: "# answer", other: "# answers" })}${round.right === null || round.answered === 0 ? "" : t`, ${percent(round.right / round.answered)} right`}`}
        >
          <ul className="grid grid-cols-[auto_minmax(0,1fr)_auto_7rem] items-center gap-x-3 gap-y-1 pt-2 text-sm">
            {round.spread.map((row) => (
              <li key={row.label + row.text} className={`contents ${row.right ? "font-semibold text-teal" : ""}`}>
                <strong>{row.label}</strong>
                <span className="font-serif wrap-anywhere">
                  {row.text}
                  {row.right && " ✓"}
                </span>
                <span className="text-end">{row.students}</span>
                <Bar share={row.students / Math.max(1, round.answered)} right={row.right ?? false} thick="h-2.5" />
              </li>
            ))}
          </ul>
          <p className="pt-2 text-sm text-graphite">{history(round)}</p>
        </Region>
      ))}
      {question.compared && <Compared compared={question.compared} />}
    </>
  );
}

const WORDS: Record<string, string> = {
  stopped: t`stopped`,
  reopened: t`went on collecting`,
  spread: t`spread shown`,
  answer: t`answer shown`,
};

/** “Asked 09:40, stopped, spread shown”: what was done with it, in order. */
function history(round: Schemas["RoundRecord"]): string {
  const done = round.collected.flatMap((what) => WORDS[what] ?? []);
  return [t`Asked ${timeOf(round.asked_at)}`, ...done].join(", ");
}
