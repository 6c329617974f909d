import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { Link, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Choice, Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { SaveView } from "../ui/save-view";
import { Empty, Page } from "../ui/spread";
import { amount, dayOf, many, percent } from "../ui/words";

type Record = Schemas["ClassRecord"];
type RecordCell = NonNullable<Record["students"][number]["cells"][number]>;

const SHOWN = { share: "in percent", marks: "in marks" } as const;
type Shown = keyof typeof SHOWN;
const ORDERS = { desk: "by desk", average: "lowest average first", name: "by name" } as const;
type Order = keyof typeof ORDERS;
const LOW = 0.5;

/** A class through the year: every sitting that is over, by student, with averages that say over what. */
export function ClassRecord() {
  const classId = Number(useParams().classId);
  const part = useRef<HTMLDivElement>(null);
  const [shown, setShown] = useInAddress("shown", "share");
  const [order, setOrder] = useInAddress("order", "desk");
  const found = useQuery({
    queryKey: ["record", classId],
    queryFn: () => read(api.GET("/api/classes/{class_id}/record", { params: { path: { class_id: classId } } })),
  });
  const record = found.data;
  if (!record)
    return (
      <Page title="Record">
        <div className="px-6">
          <Problem error={found.error} />
        </div>
      </Page>
    );
  return (
    <Page
      title={`Record of ${record.class_name}`}
      facts={`${many(record.students.length, "student")}, ${many(record.sittings.length, "sitting")}`}
      actions={
        <>
          <Pick name="Shown" value={shown} of={SHOWN} onChange={setShown} />
          <Pick name="Order" value={order} of={ORDERS} onChange={setOrder} />
          <SaveView name={`Record of ${record.class_name}`} of={part} rows={() => recordRows(record, shown as Shown)} />
        </>
      }
    >
      <div ref={part} className="flex min-h-0 flex-1 flex-col px-6 py-4">
        {record.sittings.length === 0 ? (
          <Empty title={record.opening}>A sitting is here once it is closed.</Empty>
        ) : (
          <>
            <p className="mb-3 font-serif text-lg leading-snug">{record.opening}</p>
            <Grid record={record} shown={shown as Shown} order={order as Order} />
            <p className="mt-2 text-xs text-graphite">
              Averages are over the sittings a student has a total in, each the same. ◐ answers wait for a mark, L marks
              were taken off for coming late, T a teacher set the total.
            </p>
          </>
        )}
      </div>
    </Page>
  );
}

type PickProps = { name: string; value: string; of: { [value: string]: string }; onChange: (value: string) => void };

function Pick({ name, value, of, onChange }: PickProps) {
  return (
    <Choice low className="w-auto!" aria-label={name} value={value} onChange={(event) => onChange(event.target.value)}>
      {Object.entries(of).map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </Choice>
  );
}

function Grid({ record, shown, order }: { record: Record; shown: Shown; order: Order }) {
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
            {record.sittings.map((sitting) => (
              <Head key={sitting.id}>
                <Link to={`/results/${sitting.id}`} title={sitting.name} className="block w-24 hover:underline">
                  <span className="line-clamp-3 leading-tight wrap-anywhere">{sitting.title}</span>
                  <span className="block font-normal text-graphite">{dayOf(sitting.held_on)}</span>
                </Link>
              </Head>
            ))}
          </tr>
          <tr className="text-graphite">
            <th scope="row" className="sticky left-0 z-10 bg-page px-2 py-1 text-left font-normal">
              The class
            </th>
            <td className="px-2 text-right font-semibold">{percent(record.average)}</td>
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
                {student.name}
              </th>
              <td className="border-t border-hairline px-2 text-right whitespace-nowrap">
                <strong className={(student.average ?? 1) < LOW ? "text-clay" : ""}>{percent(student.average)}</strong>
                <span className="block text-xs text-graphite">
                  over {student.over} of {record.sittings.length}
                </span>
              </td>
              {student.cells.map((cell, at) => (
                <td
                  key={record.sittings[at]?.id}
                  className="border-t border-hairline px-2 text-right whitespace-nowrap"
                >
                  <CellWords cell={cell} shown={shown} />
                </td>
              ))}
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

/** What stands in a cell, in words. */
function wordsOf(cell: RecordCell | null, shown: Shown): string {
  if (!cell) return "–";
  if (cell.share === null) return cell.word;
  return shown === "marks" ? marksIn(cell) : percent(cell.share);
}

function CellWords({ cell, shown }: { cell: RecordCell | null; shown: Shown }) {
  if (!cell || cell.share === null)
    return <span className={cell?.word === "missing" ? "text-clay" : "text-graphite"}>{wordsOf(cell, shown)}</span>;
  const signs = [cell.word === "waiting" && "◐", cell.late && "L", cell.set && "T"].filter(Boolean).join(" ");
  return (
    <span title={marksIn(cell)} className={cell.share < LOW ? "text-clay" : ""}>
      {wordsOf(cell, shown)}
      {signs && <span className="ml-1 text-xs text-ochre">{signs}</span>}
    </span>
  );
}

/** All of it as lines of a table, for a spreadsheet. */
function recordRows(record: Record, shown: Shown): string[][] {
  return [
    ["Student", "Average", "Over", ...record.sittings.map((one) => `${one.title}, ${dayOf(one.held_on)}`)],
    ["The class", percent(record.average), "", ...record.sittings.map((one) => percent(one.mean))],
    ...record.students.map((one) => [
      one.name,
      percent(one.average),
      String(one.over),
      ...one.cells.map((cell) => wordsOf(cell, shown)),
    ]),
  ];
}
