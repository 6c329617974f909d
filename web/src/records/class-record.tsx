import { useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { Divide } from "../classes/divide";
import { Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { KeptViews } from "../ui/kept-views";
import { Pick } from "../ui/pick";
import { SaveView } from "../ui/save-view";
import { Empty, Opening, Page } from "../ui/spread";
import { amount, dayOf, many, percent } from "../ui/words";
import { Columns, lookedAt } from "./columns";
import { RecordNav } from "./record-nav";
import { type ByHand, SetByHand } from "./set-by-hand";
import { type ClassRecord as Record, type RecordCell, type RecordStudent, useRecord } from "./use-record";

const SHOWN = { share: "in percent", marks: "in marks" } as const;
const ON_SCALE = { scale: "on the scale", ...SHOWN } as const;
type Shown = keyof typeof ON_SCALE;
const ORDERS = { desk: "by desk", average: "lowest average first", name: "by name" } as const;
type Order = keyof typeof ORDERS;
const BELOW = { "": "all students", "50": "under 50%", "60": "under 60%", "80": "under 80%" } as const;
const LOW = 0.5;

/** A class through the year: every sitting that is over, by student, with averages that say over what. */
export function ClassRecord() {
  const classId = Number(useParams().classId);
  const part = useRef<HTMLDivElement>(null);
  const [asked, setShown] = useInAddress("shown", "");
  const [order, setOrder] = useInAddress("order", "desk");
  const [hidden, setHidden] = useInAddress("hidden", "");
  const [below, setBelow] = useInAddress("below", "");
  const [byHand, setByHand] = useState<ByHand | null>(null);
  const found = useRecord(classId);
  const record = found.data;
  if (!record)
    return (
      <Page title="Record">
        <div className="px-6">
          <Problem error={found.error} />
        </div>
      </Page>
    );
  const hasScale = record.rules.scale_name !== "";
  const seen = lookedAt(record, hidden.split(",").filter(Boolean).map(Number), Number(below) || null);
  const shown = (asked || (hasScale ? "scale" : "share")) as Shown;
  return (
    <Page
      title={`Record of ${record.class_name}`}
      facts={`${many(record.students.length, "student")}, ${many(record.sittings.length, "sitting")}`}
      actions={
        <>
          <RecordNav classId={classId} />
          <Pick name="Shown" value={shown} of={hasScale ? ON_SCALE : SHOWN} onChange={setShown} />
          <Pick name="Order" value={order} of={ORDERS} onChange={setOrder} />
          <Pick name="Students" value={below} of={BELOW} onChange={setBelow} />
          <Columns
            record={record}
            hidden={hidden.split(",").filter(Boolean).map(Number)}
            onHidden={(next) => setHidden(next.join())}
          />
          <KeptViews />
          <Divide
            classId={classId}
            by={`average of ${record.class_name}`}
            ranked={seen.students
              .filter((one) => one.average !== null)
              .sort((a, b) => (b.average ?? 0) - (a.average ?? 0))
              .map((one) => ({ student: one.student, name: one.name, says: percent(one.average) }))}
            without={seen.students.filter((one) => one.average === null).map((one) => one.name)}
          />
          <SaveView
            name={`Record of ${record.class_name}`}
            of={part}
            rows={() => recordRows(seen, shown)}
            more={{
              name: "For the school office",
              says: "OneRoster",
              address: `/api/classes/${classId}/record/oneroster.zip`,
            }}
          />
        </>
      }
    >
      <div ref={part} className="flex min-h-0 flex-1 flex-col px-6 py-4">
        {record.sittings.length === 0 ? (
          <Empty title={record.opening}>A sitting is here once it is closed.</Empty>
        ) : (
          <>
            <Opening>{record.opening}</Opening>
            <Grid record={seen} shown={shown} order={order as Order} onSet={setByHand} />
            <p className="mt-2 text-xs text-graphite">
              {record.rules.in_words} ◐ answers wait for a mark, L marks were taken off for coming late, T a teacher set
              it, → carried over from a term before. Click a number to set it by hand.
            </p>
          </>
        )}
      </div>
      {byHand && <SetByHand record={record} what={byHand} onClose={() => setByHand(null)} />}
    </Page>
  );
}

type GridProps = { record: Record; shown: Shown; order: Order; onSet: (what: ByHand) => void };

function Grid({ record, shown, order, onSet }: GridProps) {
  const students = [...record.students].sort((a, b) =>
    order === "average"
      ? (a.average ?? 2) - (b.average ?? 2)
      : order === "name"
        ? a.name.localeCompare(b.name)
        : a.desk - b.desk,
  );
  return (
    <section
      aria-label="Students by sittings"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a place that scrolls must be reachable by keyboard
      tabIndex={0}
      className="relative min-h-80 flex-1 overflow-auto border border-hairline"
    >
      <table className="border-separate border-spacing-0 text-sm">
        <caption className="sr-only">Students by sittings, newest first</caption>
        <thead>
          <tr>
            <Head stick>Student</Head>
            <Head>Average</Head>
            {record.terms.map((term) => (
              <Head key={term.id}>
                <span className="block max-w-24 leading-tight wrap-anywhere">{term.name}</span>
                <span className="block font-normal text-graphite">{`to ${dayOf(term.ends)}`}</span>
              </Head>
            ))}
            {record.sittings.map((sitting) => (
              <Head key={sitting.id}>
                <Link to={`/results/${sitting.id}`} title={sitting.name} className="block w-24 hover:underline">
                  <span className="line-clamp-3 leading-tight wrap-anywhere">{sitting.title}</span>
                  <span className="block font-normal text-graphite">
                    {dayOf(sitting.held_on)}
                    {sitting.baseline ? ", baseline" : sitting.counts ? "" : ", counts not"}
                  </span>
                </Link>
              </Head>
            ))}
          </tr>
          <tr className="text-graphite">
            <th scope="row" className="sticky left-0 z-10 bg-page px-2 py-1 text-left font-normal">
              The class
            </th>
            <td className="px-2 text-right font-semibold">{percent(record.average)}</td>
            {record.terms.map((term) => (
              <td key={term.id} className="px-2 text-right">
                {percent(term.mean)}
              </td>
            ))}
            {record.sittings.map((sitting) => (
              <td key={sitting.id} className="px-2 text-right">
                {sitting.names_hidden ? "names hidden" : percent(sitting.mean)}
                {sitting.waiting > 0 && <span className="text-ochre"> ◐</span>}
              </td>
            ))}
          </tr>
        </thead>
        <tbody>
          {students.map((student) => (
            <tr key={student.student}>
              <th
                scope="row"
                className="sticky left-0 z-10 border-t border-hairline bg-page px-2 py-1 text-left font-serif font-normal whitespace-nowrap"
              >
                <Link to={`/records/${record.class_id}/students/${student.student}`} className="hover:underline">
                  {student.name}
                </Link>
              </th>
              <td className="border-t border-hairline px-2 text-right whitespace-nowrap">
                <strong
                  className={isLow(record, student.average, shown === "scale" ? student.said : "") ? "text-clay" : ""}
                >
                  {shown === "scale" ? student.said || "–" : percent(student.average)}
                </strong>
                <span className="block text-xs text-graphite">
                  over {student.over} of {record.sittings.length}
                </span>
              </td>
              {record.terms.map((term, at) => (
                <Settable
                  key={term.id}
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
                    name={`${student.name}, ${sitting.title}`}
                    onSet={() => onSet({ student, sitting: sitting.id })}
                  >
                    <CellWords record={record} cell={student.cells[at]} shown={shown} />
                  </Settable>
                ) : (
                  <td key={sitting.id} className="border-t border-hairline px-2 text-right text-graphite">
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
      className={`sticky top-0 border-b border-edge bg-page px-2 py-1 align-bottom text-xs font-semibold ${stick ? "left-0 z-20 min-w-36 text-left" : "z-10 text-right"}`}
    >
      {children}
    </th>
  );
}

const marksIn = (cell: RecordCell) =>
  `${amount(cell.total, (cell.total ?? 0) % 1 ? 1 : 0)} of ${amount(cell.of, (cell.of ?? 0) % 1 ? 1 : 0)}`;

/** Whether it is to be seen at a glance: the lowest step of the scale, or under half of the marks. */
function isLow(record: Record, share: number | null, said: string): boolean {
  if (share === null) return false;
  return said ? said === record.rules.scale_steps.at(-1)?.word : share < LOW;
}

/** A number that can be set by hand. */
function Settable({ name, onSet, children }: { name: string; onSet: () => void; children: React.ReactNode }) {
  return (
    <td className="border-t border-hairline p-0 text-right whitespace-nowrap">
      <button type="button" onClick={onSet} className="relative w-full px-2 py-1 text-right hover:bg-iris-wash">
        <span className="sr-only">{name}: </span>
        {children}
      </button>
    </td>
  );
}

/** Where a student stands in a term, in words. */
function termWords(cell: RecordStudent["terms"][number] | undefined, shown: Shown): string {
  if (!cell || cell.share === null) return "–";
  return `${cell.carried ? "→ " : ""}${shown === "scale" && cell.said ? cell.said : percent(cell.share)}${cell.set ? " T" : ""}`;
}

type TermWordsProps = { record: Record; cell: RecordStudent["terms"][number] | undefined; shown: Shown };

function TermWords({ record, cell, shown }: TermWordsProps) {
  return (
    <span
      title={cell?.carried ? `carried over from ${cell.carried}` : cell?.set || (cell?.over ? `over ${cell.over}` : "")}
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

/** What stands in a cell, in words. */
function wordsOf(cell: RecordCell | null | undefined, shown: Shown): string {
  if (!cell) return "–";
  if (cell.share === null) return cell.word;
  if (shown === "scale" && cell.said) return cell.said;
  return shown === "marks" ? marksIn(cell) : percent(cell.share);
}

function CellWords({ record, cell, shown }: { record: Record; cell: RecordCell | null | undefined; shown: Shown }) {
  if (!cell || cell.share === null)
    return <span className={cell?.word === "missing" ? "text-clay" : "text-graphite"}>{wordsOf(cell, shown)}</span>;
  const signs = [cell.word === "waiting" && "◐", cell.late && "L", cell.set && "T"].filter(Boolean).join(" ");
  return (
    <span
      title={marksIn(cell)}
      className={isLow(record, cell.share, shown === "scale" ? cell.said : "") ? "text-clay" : ""}
    >
      {wordsOf(cell, shown)}
      {signs && <span className="ml-1 text-xs text-ochre">{signs}</span>}
    </span>
  );
}

/** All of it as lines of a table, for a spreadsheet. */
function recordRows(record: Record, shown: Shown): string[][] {
  return [
    [
      "Student",
      "Average",
      "Over",
      ...record.terms.map((one) => one.name),
      ...record.sittings.map((one) => `${one.title}, ${dayOf(one.held_on)}`),
    ],
    [
      "The class",
      percent(record.average),
      "",
      ...record.terms.map((one) => percent(one.mean)),
      ...record.sittings.map((one) => percent(one.mean)),
    ],
    ...record.students.map((one) => [
      one.name,
      shown === "scale" ? one.said : percent(one.average),
      String(one.over),
      ...one.terms.map((cell) => termWords(cell, shown)),
      ...one.cells.map((cell) => wordsOf(cell, shown)),
    ]),
  ];
}
