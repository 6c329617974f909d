import { plural, t } from "@lingui/core/macro";
import { Button } from "../ui/button";
import { PartChart } from "../ui/charts/part-chart";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { dayOf, namesIn, percent } from "../ui/words";
import type { RecordPage } from "./record-page";

type Props = { record: RecordPage; onChoose: (ref: string) => void; onBring: () => void };

/** The lesson as a whole: who took part, what asking again did, and other classes beside it. */
export function WholeLesson({ record, onChoose, onBring }: Props) {
  const again = record.questions.filter((question) => question.compared && question.compared.students > 0);
  const dropped = record.students.filter((student) => student.dropped_after);
  const late = record.students.filter((student) => student.came_late);
  const never = record.students.filter((student) => student.answered === 0 && !student.away);
  const asked = record.questions
    .flatMap((question) => question.rounds.map((round) => ({ question, round })))
    .sort((one, other) => one.round.asked_at.localeCompare(other.round.asked_at));
  return (
    <>
      <h2 className="mb-1 font-serif text-2xl leading-tight font-semibold">{opening(record)}</h2>
      <p className="mb-5">{moved(record)}</p>
      <Region name={t`Answers along the lesson`} remark={t`of ${record.of}`}>
        <PartChart
          most={record.of}
          points={asked.map(({ question, round }) => ({
            label: round.number > 1 ? `${question.number} again` : `${question.number}`,
            count: round.answered,
          }))}
        />
        {dropped.length > 0 && (
          <p className="pb-1">
            <strong className="text-ochre">{t`◐ Dropped out:`}</strong>{" "}
            {dropped.map((student) => t`${student.name} after ${student.dropped_after}`).join(", ")}.
          </p>
        )}
        {late.length > 0 && <p className="pb-1">{t`Came late: ${namesIn(late.map((student) => student.name))}`}</p>}
        {never.length > 0 && (
          <p className="pb-1">{t`Here, and never answered: ${namesIn(never.map((student) => student.name))}`}</p>
        )}
      </Region>
      {again.length > 0 && (
        <Region name={t`Asked again`} remark={t`students right`}>
          <Table
            caption={t`Questions that were asked again`}
            heads={[{ label: t`Question` }, { label: t`Before`, right: true }, { label: t`After`, right: true }]}
          >
            {again.map(({ ref, number, words, compared }) => (
              <Row key={ref}>
                <Cell>
                  <button type="button" className="text-start hover:underline" onClick={() => onChoose(ref)}>
                    <span className="me-2 text-graphite">{number}</span>
                    {words || t`Quick question`}
                  </button>
                </Cell>
                <Cell right>{compared?.right_before}</Cell>
                <Cell right>
                  <span className="whitespace-nowrap">
                    {compared?.right_after} {t`of`} {compared?.students}
                  </span>
                </Cell>
              </Row>
            ))}
          </Table>
        </Region>
      )}
      {record.beside.length > 0 && <Beside record={record} />}
      {record.over && (
        <Region name={t`Into an earlier sitting`}>
          <p className="py-2">{t`These answers can fill in or replace those of an earlier sitting of this test with ${record.class_name}. You see first what would change; both stay on record.`}</p>
          <Button onClick={onBring}>{t`Look at it…`}</Button>
        </Region>
      )}
    </>
  );
}

function opening({ came, of, dropped }: RecordPage): string {
  const all = came === of ? t`All ${of} took part` : t`${came} of ${of} took part`;
  return dropped > 0 ? t`${all}, and ${dropped} dropped out.` : `${all}.`;
}

function moved({ questions }: RecordPage): string {
  const rounds = questions.reduce((sum, question) => sum + question.rounds.length, 0);
  const gained = questions.reduce(
    (sum, { compared }) => sum + (compared ? compared.right_after - compared.right_before : 0),
    0,
  );
  const again = questions.filter((question) => question.rounds.length > 1).length;
  const first = `${plural(questions.length, { one: "# question", other: "# questions" })}, ${plural(rounds, { one: "# round", other: "# rounds" })}.`;
  if (again === 0) return first;
  if (gained === 0) return t`${first} Asking again left as many right as before.`;
  return t`${first} Asking again brought ${gained < 0 ? plural(-gained, { one: "# fewer right answer", other: "# fewer right answers" }) : plural(gained, { one: "# more right answer", other: "# more right answers" })}.`;
}

/** The same questions with other classes: share right at first, and at last where it was asked again. */
function Beside({ record }: { record: RecordPage }) {
  const lessons = [record, ...record.beside];
  const rows = record.questions.filter((question) => !question.quick);
  return (
    <Region name={t`Other lessons of this test`} remark={t`right at first → at last`}>
      <div className="overflow-x-auto">
        <Table
          caption={t`Share right, lesson by lesson`}
          heads={[
            { label: t`Question` },
            ...lessons.map((lesson) => ({
              label: `${lesson.class_name}${lesson.held ? `, ${dayOf(lesson.held)}` : ""}`,
              right: true,
            })),
          ]}
        >
          {rows.map(({ ref, number }) => (
            <Row key={ref}>
              <Cell>{number}</Cell>
              {lessons.map((lesson) => (
                <Cell key={lesson.sitting} right>
                  <Shares shares={lesson.shares[ref]} />
                </Cell>
              ))}
            </Row>
          ))}
        </Table>
      </div>
    </Region>
  );
}

function Shares({ shares }: { shares: (number | null)[] | undefined }) {
  const [first, last] = shares ?? [];
  if (first === undefined || first === null) return <span className="text-graphite">–</span>;
  return (
    <>
      {percent(first)}
      {last !== undefined && last !== null && ` → ${percent(last)}`}
    </>
  );
}
