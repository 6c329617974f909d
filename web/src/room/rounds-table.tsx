import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { percent } from "../ui/words";
import type { RecordPage } from "./record-page";

type Props = { record: RecordPage; chosen: string | null; onChoose: (ref: string) => void };

/** Students by rounds: a right answer a dot, a wrong one what was said, nothing given a dash. */
export function RoundsTable({ record, chosen, onChoose }: Props) {
  const columns = record.questions.flatMap((question) => question.rounds.map((round) => ({ question, round })));
  const edge = (at: number) => (columns[at]?.round.number === 1 ? "border-s border-hairline" : "");
  return (
    <div className="overflow-x-auto">
      <table className="min-w-full border-separate border-spacing-0 text-sm">
        <caption className="sr-only">{t`Who answered what in which round`}</caption>
        <thead>
          <tr>
            <th scope="col" className={`${stuck} w-44 text-start font-semibold text-graphite`}>{t`Student`}</th>
            {record.questions.map((question) => (
              <th
                key={question.ref}
                scope="colgroup"
                colSpan={question.rounds.length}
                className={`border-s border-hairline p-0 font-serif ${question.ref === chosen ? "bg-iris-wash" : ""}`}
              >
                <button
                  type="button"
                  aria-pressed={question.ref === chosen}
                  aria-label={t`Question ${question.number}: ${question.words || t`quick question`}`}
                  onClick={() => onChoose(question.ref)}
                  className="min-h-8 w-full px-2.5 font-semibold hover:underline"
                >
                  {question.number}
                </button>
              </th>
            ))}
            <th scope="col" className="border-s border-hairline px-3 text-end font-semibold text-graphite">{t`in`}</th>
          </tr>
          {record.questions.some((question) => question.rounds.length > 1) && (
            <tr className="text-xs text-graphite">
              <th scope="row" className={`${stuck} text-start font-normal`}>{t`round`}</th>
              {columns.map(({ question, round }, at) => (
                <td key={`${question.ref} ${round.number}`} className={`px-1 text-center ${edge(at)}`}>
                  {round.number}
                </td>
              ))}
              <td className="border-s border-hairline" />
            </tr>
          )}
        </thead>
        <tbody>
          {record.students.map((student) => (
            <tr key={student.seat} className={student.away || student.answered === 0 ? "text-graphite" : ""}>
              <th scope="row" className={`${stuck} border-t border-hairline text-start font-normal whitespace-nowrap`}>
                <span className="me-2 inline-block w-5 text-end text-graphite">{student.desk}</span>
                <span className="inline-block max-w-32 truncate align-bottom font-serif text-base">{student.name}</span>
              </th>
              {student.cells.map((cell, at) => (
                <td
                  // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its column
                  key={at}
                  className={`border-t border-hairline px-2 text-center ${edge(at)} ${columns[at]?.question.ref === chosen ? "bg-iris-wash" : ""}`}
                >
                  <Said cell={cell} />
                </td>
              ))}
              <td className="border-t border-s border-hairline px-3 text-end text-graphite">{student.answered}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <Foot name="answered" cells={columns.map(({ round }) => `${round.answered}`)} edge={edge} />
          <Foot
            name="right"
            cells={columns.map(({ round }) =>
              round.right === null || round.answered === 0 ? "" : percent(round.right / round.answered),
            )}
            edge={edge}
          />
        </tfoot>
      </table>
    </div>
  );
}

const stuck = "sticky start-0 z-10 bg-page py-1 pe-3";

function Said({ cell }: { cell: Schemas["Cell"] }) {
  if (!cell.said)
    return (
      <span className="text-graphite" role="img" aria-label={t`nothing given`}>
        –
      </span>
    );
  if (cell.right)
    return (
      <span className="text-teal" role="img" aria-label={t`${cell.said}, right`}>
        ●
      </span>
    );
  const short = cell.said.length > 6 ? `${cell.said.slice(0, 5)}…` : cell.said;
  return (
    <span className={cell.right === false ? "font-semibold text-plum" : ""} title={cell.said}>
      {short}
    </span>
  );
}

function Foot({ name, cells, edge }: { name: string; cells: string[]; edge: (at: number) => string }) {
  return (
    <tr className="text-xs text-graphite">
      <th scope="row" className={`${stuck} border-t border-edge text-start font-normal`}>
        {name}
      </th>
      {cells.map((words, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its column
        <td key={at} className={`border-t border-edge px-1 py-1 text-center ${edge(at)}`}>
          {words}
        </td>
      ))}
      <td className="border-t border-s border-edge border-s-hairline" />
    </tr>
  );
}
