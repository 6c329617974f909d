import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Hint } from "../ui/hint";
import { NumberInput } from "../ui/number-input";
import { Line, Region } from "../ui/split-page";
import { amount, figure } from "../ui/words";

export type ForetoldOf = { students: number | null; cut: number };
type Foretold = NonNullable<Schemas["PredictedStatistics"]["foretold"]>;
type Props = { page: Schemas["ForetoldPage"]; wanted: ForetoldOf; onWanted: (wanted: ForetoldOf) => void };

/** What the test will do, from what its questions did before, and what was found in them that still stands. */
export function Expected({ page, wanted, onWanted }: Props) {
  const { marks, minutes, questions, known, foretold } = page.predicted;
  return (
    <>
      <Region name={t`What to expect`}>
        <p className="pt-2">
          <Trans>
            {plural(questions, { one: "# question", other: "# questions" })},{" "}
            <strong>{amount(marks, marks % 1 ? 1 : 0)} marks</strong>, about{" "}
            <strong>{Math.round(minutes)} minutes</strong>.{" "}
          </Trans>
          {!foretold && (
            <span className="text-graphite">
              {known === 0
                ? t`None of them was used before, so how the class will do cannot be foretold.`
                : plural(known, {
                    one: "# question of it was used before: too little to foretell more.",
                    other: "# questions of it were used before: too little to foretell more.",
                  })}
            </span>
          )}
        </p>
        {foretold && <Sentences foretold={foretold} known={known} questions={questions} />}
        {foretold && (
          <p className="flex flex-wrap items-baseline gap-x-2 pt-2 text-sm text-graphite">
            {t`In a class of`}
            <NumberInput
              label={t`Students who will sit it`}
              className="w-16! py-0! text-end"
              min={2}
              max={500}
              step={1}
              value={wanted.students ?? foretold.students}
              onChange={(students) => onWanted({ ...wanted, students })}
            />
            {t`students, with a decision at`}
            <NumberInput
              label={t`Percent of the marks at which it is decided`}
              className="w-16! py-0! text-end"
              min={0}
              max={100}
              step={1}
              value={wanted.cut}
              onChange={(cut) => onWanted({ ...wanted, cut: cut ?? 50 })}
            />
            {t`% of the marks.`}
          </p>
        )}
      </Region>
      {page.unsettled.length > 0 && (
        <Region name={t`Found before, and not settled`}>
          {page.unsettled.map((entry) => (
            <Line key={entry.ref} margin={t`Question ${entry.number}`}>
              {entry.standing.map((found) => (
                <Link key={found.heading} to={`/bank/${entry.ref}`} className="block hover:underline">
                  {found.heading}{" "}
                  <span className="text-sm text-graphite">
                    {t`${Math.min(99, Math.round(100 * found.probability))} in 100`}
                  </span>
                </Link>
              ))}
            </Line>
          ))}
        </Region>
      )}
    </>
  );
}

function Sentences({ foretold, known, questions }: { foretold: Foretold; known: number; questions: number }) {
  const { students, mean, reliability, sem, near_cut: near, margin } = foretold;
  return (
    <p className="pt-2">
      {t`The class will earn about`}{" "}
      <Hint says={t`The average total to expect. In brackets: nine times in ten it comes out between these.`}>
        <strong>{amount(mean.middle)}</strong>
      </Hint>{" "}
      {t`marks on average`} <Between of={mean} print={amount} />
      {t`. Reliability will be about`}{" "}
      <Hint says={t`Coefficient alpha: how well the questions agree on who is strong.`}>
        <strong>{figure(reliability.middle)}</strong>
      </Hint>{" "}
      <Between of={reliability} print={figure} />
      {t`, and a total good to`}{" "}
      <Hint
        says={t`Standard error of measurement: two thirds of students would come out within this many marks on a like test.`}
      >
        <strong>± {amount(sem.middle)}</strong>
      </Hint>
      <Trans>
        {" "}
        marks. About <strong>{Math.round(near.middle)}</strong> of {students} students ({Math.round(near.low)} to{" "}
        {Math.round(near.high)}) will come out within {amount(margin)} marks of {Math.round(100 * foretold.cut)}%, too
        close to tell on which side of it they belong.{" "}
        <span className="text-graphite">
          {known < questions
            ? t`${plural(known, { one: "# question of", other: "# questions of" })} ${questions} ${plural(known, { one: "was used before", other: "were used before" })}; of the others the usual is assumed.`
            : t`All questions were used before.`}
        </span>
      </Trans>
    </p>
  );
}

function Between({ of, print }: { of: Foretold["mean"]; print: (value: number) => string }) {
  return <span className="text-graphite">{t`(${print(of.low)} to ${print(of.high)})`}</span>;
}
