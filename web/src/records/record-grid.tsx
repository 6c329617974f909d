import { t } from "@lingui/core/macro";
import { Link } from "react-router";
import type { Place } from "../ui/cells";
import { dayOf, percent } from "../ui/words";
import { isLow, marksIn, type Shown, termWords, wordsOf } from "./record-words";
import type { ByHand } from "./set-by-hand";
import type { ClassRecord, RecordCell, RecordStudent } from "./use-record";

/** The grid while numbers are typed along it: terms are its first columns. */
export type Typing = {
  at: Place;
  field: React.ReactNode;
  pick: (place: Place) => void;
  /** What was typed there and is not kept yet. */
  onItsWay: (place: Place) => string | null;
};

const [FIRST_REM, COLUMN_REM] = [22, 9];

type Props = { record: ClassRecord; shown: Shown; typing: Typing | null; onSet: (what: ByHand) => void };

/** Students by terms and sittings; a number is set in a dialog, or typed where the grid is typed along. */
export function RecordGrid({ record, shown, typing, onSet }: Props) {
  return (
    <section
      aria-label={t`Students by sittings`}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a place that scrolls must be reachable by keyboard
      tabIndex={0}
      className="relative min-h-80 flex-1 overflow-auto border border-hairline"
    >
      <table
        className="w-full border-separate border-spacing-0 text-sm"
        // The width there is, as far as a number still stands near its neighbours.
        style={{ maxWidth: `${FIRST_REM + COLUMN_REM * (record.terms.length + record.sittings.length)}rem` }}
      >
        <caption className="sr-only">{t`Students by sittings, newest first`}</caption>
        <thead>
          <tr>
            <Head stick>{t`Student`}</Head>
            <Head>{t`Average`}</Head>
            {record.terms.map((term) => (
              <Head key={term.id}>
                <span className="block max-w-24 leading-tight wrap-break-word">{term.name}</span>
                <span className="block font-normal whitespace-nowrap text-graphite">{t`to ${dayOf(term.ends)}`}</span>
              </Head>
            ))}
            {record.sittings.map((sitting) => (
              <Head key={sitting.id}>
                <Link
                  to={`/results/${sitting.id}`}
                  title={sitting.name}
                  className="ms-auto block min-w-24 max-w-36 hover:underline"
                >
                  <span className="line-clamp-3 leading-tight wrap-break-word">{sitting.title}</span>
                  <span className="block font-normal text-graphite">
                    {dayOf(sitting.held_on)}
                    {sitting.baseline ? t`, baseline` : sitting.counts ? "" : t`, counts not`}
                  </span>
                </Link>
              </Head>
            ))}
          </tr>
          <tr className="text-graphite">
            <th scope="row" className="sticky start-0 z-10 bg-page px-2 py-1 text-start font-normal">{t`The class`}</th>
            <td className="px-2 text-end font-semibold">{percent(record.average)}</td>
            {record.terms.map((term) => (
              <td key={term.id} className="px-2 text-end">
                {percent(term.mean)}
              </td>
            ))}
            {record.sittings.map((sitting) => (
              <td key={sitting.id} className="px-2 text-end">
                {sitting.names_hidden ? t`names hidden` : percent(sitting.mean)}
                {sitting.waiting > 0 && <span className="text-ochre"> ◐</span>}
              </td>
            ))}
          </tr>
        </thead>
        <tbody>
          {record.students.map((student, row) => (
            <tr key={student.student}>
              <th
                scope="row"
                className="sticky start-0 z-10 border-t border-hairline bg-page px-2 py-1 text-start font-serif font-normal whitespace-nowrap"
              >
                <Link to={`/records/${record.class_id}/students/${student.student}`} className="hover:underline">
                  {student.name}
                </Link>
              </th>
              <td className="border-t border-hairline px-2 text-end whitespace-nowrap">
                <strong
                  className={isLow(record, student.average, shown === "scale" ? student.said : "") ? "text-clay" : ""}
                >
                  {shown === "scale" ? student.said || "–" : percent(student.average)}
                </strong>
                <span className="block text-xs text-graphite">
                  {t`over ${student.over} of ${record.sittings.length}`}
                </span>
              </td>
              {record.terms.map((term, at) => (
                <Settable
                  key={term.id}
                  place={{ row, column: at }}
                  typing={typing}
                  name={`${student.name}, ${term.name}`}
                  onSet={() => onSet({ student, term: term.id })}
                >
                  <TermWords record={record} cell={student.terms[at]} shown={shown} />
                </Settable>
              ))}
              {record.sittings.map((sitting, at) =>
                student.cells[at] ? (
                  <Settable
                    key={sitting.id}
                    place={{ row, column: record.terms.length + at }}
                    typing={typing}
                    name={`${student.name}, ${sitting.title}`}
                    onSet={() => onSet({ student, sitting: sitting.id })}
                  >
                    <CellWords record={record} cell={student.cells[at]} shown={shown} />
                  </Settable>
                ) : (
                  <td key={sitting.id} className="border-t border-hairline px-2 text-end text-graphite">
                    –
                  </td>
                ),
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Head({ children, stick = false }: { children: React.ReactNode; stick?: boolean }) {
  return (
    <th
      scope="col"
      className={`sticky top-0 border-b border-edge bg-page px-2 py-1 align-bottom text-xs font-semibold ${stick ? "start-0 z-20 min-w-36 text-start" : "z-10 text-end"}`}
    >
      {children}
    </th>
  );
}

type SettableProps = {
  name: string;
  place: Place;
  typing: Typing | null;
  onSet: () => void;
  children: React.ReactNode;
};

/** A number that can be set by hand. */
function Settable({ name, place, typing, onSet, children }: SettableProps) {
  const edge = "border-t border-hairline p-0 text-end whitespace-nowrap";
  if (typing && typing.at.row === place.row && typing.at.column === place.column)
    return <td className={`${edge} relative`}>{typing.field}</td>;
  if (typing) {
    const typed = typing.onItsWay(place);
    return (
      <td
        className={`${edge} cursor-cell px-2 py-1`}
        onMouseDown={(event) => {
          event.preventDefault();
          typing.pick(place);
        }}
      >
        {typed === null ? children : <em className="text-iris">{typed}</em>}
      </td>
    );
  }
  return (
    <td className={edge}>
      <button type="button" onClick={onSet} className="relative w-full px-2 py-1 text-end hover:bg-iris-wash">
        <span className="sr-only">{name}: </span>
        {children}
      </button>
    </td>
  );
}

type TermWordsProps = { record: ClassRecord; cell: RecordStudent["terms"][number] | undefined; shown: Shown };

function TermWords({ record, cell, shown }: TermWordsProps) {
  return (
    <span
      title={
        cell?.carried ? t`carried over from ${cell.carried}` : cell?.set || (cell?.over ? t`over ${cell.over}` : "")
      }
      className={
        !cell || cell.share === null || cell.carried
          ? "text-graphite"
          : isLow(record, cell.share, shown === "scale" ? cell.said : "")
            ? "text-clay"
            : ""
      }
    >
      {termWords(cell, shown)}
    </span>
  );
}

function CellWords({
  record,
  cell,
  shown,
}: {
  record: ClassRecord;
  cell: RecordCell | null | undefined;
  shown: Shown;
}) {
  if (!cell || cell.share === null)
    return <span className={cell?.word === "missing" ? "text-clay" : "text-graphite"}>{wordsOf(cell, shown)}</span>;
  const signs = [cell.word === "waiting" && "◐", cell.late && "L", cell.set && "T"].filter(Boolean).join(" ");
  return (
    <span
      title={marksIn(cell)}
      className={isLow(record, cell.share, shown === "scale" ? cell.said : "") ? "text-clay" : ""}
    >
      {wordsOf(cell, shown)}
      {signs && <span className="text-xs text-ochre">{` ${signs}`}</span>}
    </span>
  );
}
