import { t } from "@lingui/core/macro";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { DistributionChart, type TotalsBar } from "../../ui/charts/distribution-chart";
import { Hint } from "../../ui/hint";
import { Region } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { amount, figure } from "../../ui/words";
import { ForecastAfter } from "./forecast-after";
import { WithTotal } from "./students-with-total";
import { WhatToDo } from "./what-to-do";

type Props = { page: Schemas["FindingsPage"]; body: Schemas["FindingsPageBody"]; onChoose: (number: number) => void };

/** The test as a whole: the sentences that matter, the questions to look at, the spread of totals, the figures. */
export function WholeTest({ page, body, onChoose }: Props) {
  const [bar, setBar] = useState<TotalsBar | null>(null);
  return (
    <>
      <p className="mb-5 font-serif text-xl leading-snug font-semibold">{body.opening}</p>
      {body.evidence && <p className="-mt-3 mb-5 text-sm text-graphite">{body.evidence}</p>}
      {body.reasons.flags && <p className="mb-4 text-ochre">◐ {body.reasons.flags}</p>}
      <WhatToDo
        sittingId={page.sitting.id}
        flags={body.flags}
        ideas={body.shown_ideas}
        students={page.students}
        onChoose={onChoose}
      />
      {body.gone_ideas.length > 0 && (
        <Region name={t`Ideas that show no more`}>
          {body.gone_ideas.map((says) => (
            <p key={says} className="border-b border-hairline py-2.5">
              {says}
            </p>
          ))}
        </Region>
      )}
      <Region name={t`Students by total`}>
        <DistributionChart counts={body.distribution} max={body.test.max} mean={body.test.mean} onChoose={setBar} />
        <WithTotal bar={bar} students={page.students} />
      </Region>
      <Figures test={body.test} reasons={body.reasons} />
      {page.forecast && <ForecastAfter forecast={page.forecast} />}
      <Region name={t`Totals`}>
        <Table
          caption={t`Totals by student`}
          heads={[
            { label: t`Desk`, right: true },
            { label: t`Student` },
            { label: t`Of ${body.test.max}`, right: true },
          ]}
        >
          {[...page.students]
            .sort((a, b) => (b.total ?? -1) - (a.total ?? -1) || a.desk - b.desk)
            .map((student) => (
              <Row key={student.seat}>
                <Cell right>
                  <span className="text-graphite">{student.desk}</span>
                </Cell>
                <Cell>{student.name}</Cell>
                <Cell right>
                  {student.total === null ? <span className="text-graphite">{t`not counted`}</span> : student.total}
                </Cell>
              </Row>
            ))}
        </Table>
      </Region>
    </>
  );
}

const MEANINGS = [
  ["mean", t`Mean`, amount, t`Average of the totals.`],
  ["median", t`Median`, amount, t`Half of the students have less, half have more.`],
  ["sd", t`Standard deviation`, amount, t`How far totals lie from the mean, typically.`],
  ["q1", t`Lower quartile`, amount, t`A quarter of the students have less.`],
  ["q3", t`Upper quartile`, amount, t`A quarter of the students have more.`],
  ["skewness", t`Skewness`, figure, t`Above 0: a tail of high totals; below 0: a tail of low ones.`],
  ["kurtosis", t`Excess kurtosis`, figure, t`Above 0: more extreme totals than a bell curve has.`],
  ["alpha", t`Alpha`, figure, t`How well the questions agree on who is strong.`],
  ["kr20", t`KR-20`, figure, t`Alpha for questions that are right or wrong.`],
  ["lambda2", t`Lambda-2`, figure, t`A sharper lower bound of reliability than alpha.`],
  ["split_half", t`Split half`, figure, t`Odd against even questions, stepped up to full length.`],
  [
    "sem",
    t`Standard error of measurement`,
    amount,
    t`Two thirds of students would come out within this many marks on a like test.`,
  ],
] as const;

function Figures({ test, reasons }: { test: Schemas["TestFigures"]; reasons: Record<string, string> }) {
  return (
    <Region name={t`Figures`}>
      <dl className="grid grid-cols-2 gap-x-6 pt-2 text-sm">
        {MEANINGS.map(([name, label, print, says]) => (
          <div key={name} className="flex justify-between border-b border-hairline py-1">
            <dt className="text-graphite">
              <Hint says={reasons[`test.${name}`] ?? says}>{label}</Hint>
            </dt>
            <dd className="font-semibold">{print(test[name], 2)}</dd>
          </div>
        ))}
      </dl>
    </Region>
  );
}
