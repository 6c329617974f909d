import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { memo, useRef } from "react";
import { CellField } from "../ui/cell-field";
import { type Block, type Place, useCells } from "../ui/cells";
import { inWords } from "../ui/code-words";
import { amount, percent } from "../ui/words";
import {
  type Change,
  type Column,
  cleared,
  copied,
  filledDown,
  isFull,
  pasted,
  presenceOf,
  type Row,
  readEntry,
  within,
} from "./grid";

type Props = {
  rows: Row[];
  columns: Column[];
  maxTotal: number;
  /** Whether a mark that cannot grow any more leads on by itself. */
  onward: boolean;
  onChange: (change: Change) => void;
  onRefused: (refused: string[]) => void;
  undo: (() => void) | null;
  redo: (() => void) | null;
};

const edge = "border-b border-hairline";
const pinned = "sticky start-0 z-10 bg-page";
/** The total, which stays in sight on a screen wide enough for it. */
const last = "min-w-24 border-s px-3 text-end sm:sticky sm:end-0 sm:z-10";

/** Marks by student and column, moved through like a spreadsheet. */
export function MarksGrid({ rows, columns, maxTotal, onward, onChange, onRefused, undo, redo }: Props) {
  /** Why what was typed cannot stand; null once it is taken. */
  const takes = (typed: string, { row: down, column: along }: Place): string | null => {
    const [row, column] = [rows[down], columns[along]];
    if (!row || !column) return null;
    const entry = readEntry(typed, column);
    if ("refused" in entry) return entry.refused;
    if ("away" in entry) onChange({ marks: [], presence: [{ seat: row.seat, how: entry.away }] });
    else if (entry.points !== (row.marks[column.ref]?.points ?? null))
      onChange({ marks: [{ seat: row.seat, item: column.ref, points: entry.points }], presence: [] });
    return null;
  };
  const cells = useCells({
    rows: rows.length,
    columns: columns.length,
    first: () => firstEmpty(rows, columns),
    take: takes,
  });
  const { at, anchor, block, draft, input, after, go, take } = cells;
  const [row, column] = [rows[at.row], columns[at.column]];
  const away = (how: "absent" | "excused") => {
    if (!row) return;
    onChange({ marks: [], presence: [{ seat: row.seat, how: presenceOf(row) === how ? "here" : how }] });
    if (at.row + 1 < rows.length) go({ row: at.row + 1, column: at.column });
  };

  const onKey = (event: React.KeyboardEvent) => {
    const still = draft === null;
    const letter = event.key.toLowerCase();
    const own = () => {
      if (event.ctrlKey || event.metaKey) {
        if (letter === "z" && !event.shiftKey) {
          if (still) undo?.();
          cells.drop();
        } else if (letter === "y" || letter === "z") redo?.();
        else if (letter === "d") {
          if (take()) onChange(filledDown(block, rows, columns));
        } else return false;
      } else if (still && (event.key === "Delete" || event.key === "Backspace"))
        onChange(cleared(block, rows, columns));
      else if (still && /^[ae]$/.test(letter)) away(letter === "a" ? "absent" : "excused");
      else return false;
      return true;
    };
    if (own()) event.preventDefault();
    else cells.onKey(event);
  };
  const onType = (typed: string) => {
    cells.type(typed);
    if (onward && column && isFull(typed, column) && take(typed)) go(cells.step("right"));
  };
  const onPaste = (event: React.ClipboardEvent) => {
    event.preventDefault();
    cells.drop();
    const top = { row: Math.min(block.from.row, at.row), column: Math.min(block.from.column, at.column) };
    const found = pasted(event.clipboardData.getData("text"), top, rows, columns);
    onChange(found.change);
    onRefused(found.refused);
  };
  // Rows that have not changed are not drawn again, so what they call is looked up when it is called.
  const latest = useRef<Hands>({ pick: () => {}, over: () => {} });
  latest.current = {
    pick: (event, place) => {
      event.preventDefault();
      if (take()) go(place, event.shiftKey);
    },
    over: (event, place) => {
      if (event.buttons === 1 && document.activeElement === input.current) go(place, true);
    },
  };
  const hands = useRef<Hands>({
    pick: (event, place) => latest.current.pick(event, place),
    over: (event, place) => latest.current.over(event, place),
  });

  return (
    <>
      <div className="max-h-[72vh] w-fit scroll-pt-16 scroll-pb-10 scroll-ps-40 scroll-pe-2 sm:scroll-pr-28 sm:scroll-ps-72 max-w-full overflow-auto border-x border-t border-hairline">
        {/* biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: a table that is worked in is a grid */}
        <table role="grid" aria-label={t`Marks`} className="border-separate border-spacing-0 text-sm">
          <thead className="sticky top-0 z-20 bg-page">
            <tr>
              <th
                scope="col"
                className={`${edge} ${pinned} min-w-36 border-e px-3 py-1.5 text-start sm:min-w-44`}
              >{t`Student`}</th>
              {columns.map((column, place) => (
                <th
                  key={column.ref}
                  scope="col"
                  title={[column.about, column.skills.join(", ")].filter(Boolean).join(" · ")}
                  className={`${edge} min-w-16 px-2 py-1.5 text-end align-bottom ${place === at.column ? "text-iris" : ""}`}
                >
                  <span className="ms-auto block max-w-16 truncate sm:max-w-32">{column.label}</span>
                  <span className="block text-xs font-normal text-graphite">{t`of ${column.marks}`}</span>
                </th>
              ))}
              <th scope="col" className={`${edge} ${last} bg-page py-1.5 align-bottom`}>
                <span className="block">{t`Total`}</span>
                <span className="block text-xs font-normal text-graphite">{t`of ${maxTotal}`}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((one, place) => (
              <GridRow
                key={one.seat}
                row={one}
                place={place}
                columns={columns}
                at={place === at.row ? at.column : -1}
                block={anchor && touches(block, place) ? block : null}
                hands={hands.current}
                field={
                  place === at.row && column ? (
                    <CellField
                      cells={cells}
                      label={t`${one.name}, ${column.label}, of ${column.marks}`}
                      now={shown(one, column)}
                      onType={onType}
                      onKey={onKey}
                      onPaste={onPaste}
                      onCopy={(event) => {
                        event.preventDefault();
                        event.clipboardData.setData("text/plain", copied(block, rows, columns));
                      }}
                    />
                  ) : null
                }
              />
            ))}
          </tbody>
          <tfoot className="sticky bottom-0 z-20 bg-page-2">
            <tr>
              <th
                scope="row"
                className={`${edge} sticky start-0 border-t border-e bg-page-2 px-3 py-1 text-start`}
              >{t`Earned of the marks`}</th>
              {columns.map((column) => (
                <td key={column.ref} className={`${edge} border-t px-2 py-1 text-end text-graphite`}>
                  {percent(share(rows, column))}
                </td>
              ))}
              <td className={`${edge} ${last} border-t bg-page-2 py-1 text-graphite`}>
                {percent(wholeShare(rows, maxTotal))}
              </td>
            </tr>
          </tfoot>
        </table>
      </div>
      <p ref={after} tabIndex={-1} className="mt-2 text-sm text-graphite">
        <Trans>
          Tab goes across, Enter down, <strong>A</strong> absent, <strong>E</strong> excused, Ctrl D fills down, Ctrl Z
          takes back. Paste a block from a spreadsheet. <em className="text-iris">Slanted</em> marks were entered by the
          student.
        </Trans>
      </p>
    </>
  );
}

type Hands = Record<"pick" | "over", (event: React.MouseEvent, place: Place) => void>;

type RowProps = {
  row: Row;
  place: number;
  columns: Column[];
  /** The column that is being worked in, −1 where it is in another row. */
  at: number;
  block: Block | null;
  field: React.ReactNode;
  hands: Hands;
};

const GridRow = memo(
  function GridRow({ row, place, columns, at, block, field, hands }: RowProps) {
    const gone = presenceOf(row) !== "here";
    return (
      <tr>
        <th scope="row" className={`${edge} ${pinned} border-e px-3 py-1 text-start font-normal whitespace-nowrap`}>
          <span className="flex max-w-32 items-baseline sm:max-w-64">
            <span className="me-2 w-6 shrink-0 text-end text-graphite">{row.desk}</span>
            <span
              title={row.name}
              className={`truncate font-serif text-base ${at >= 0 ? "font-semibold" : ""} ${gone ? "text-graphite" : ""}`}
            >
              {row.name}
            </span>
          </span>
        </th>
        {columns.map((column, along) => (
          // biome-ignore lint/a11y/useFocusableInteractive: the field in the current cell is what takes the focus
          <td
            key={column.ref}
            // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: the cell of a grid
            role="gridcell"
            aria-selected={block !== null && within(block, place, along)}
            onMouseDown={(event) => along !== at && hands.pick(event, { row: place, column: along })}
            onMouseEnter={(event) => along !== at && hands.over(event, { row: place, column: along })}
            className={`${edge} relative cursor-cell border-s border-s-transparent text-end select-none ${block && within(block, place, along) ? "bg-iris-wash" : ""} ${along === at ? "p-0" : "px-2 py-1"}`}
          >
            {along === at ? field : <CellWords row={row} column={column} gone={gone} />}
          </td>
        ))}
        <td className={`${edge} ${last} bg-page py-1 font-semibold whitespace-nowrap`}>
          {gone ? (
            <span className="font-normal text-graphite">{inWords(row.state)}</span>
          ) : Object.keys(row.marks).length > 0 ? (
            half(row.total)
          ) : row.here ? (
            <span className="font-normal text-ochre">{t`◐ at it`}</span>
          ) : null}
        </td>
      </tr>
    );
  },
  (before, after) =>
    before.row === after.row && before.at === after.at && after.at < 0 && before.block === null && after.block === null,
);

function CellWords({ row, column, gone }: { row: Row; column: Column; gone: boolean }) {
  const mark = row.marks[column.ref];
  if (!mark) return <span className="text-graphite">{gone ? "–" : "\u00a0"}</span>;
  if (mark.by_student) return <em className="text-iris">{half(mark.points)}</em>;
  return <span className={gone ? "text-graphite line-through" : ""}>{half(mark.points)}</span>;
}

const half = (points: number) => (Number.isInteger(points) ? String(points) : amount(points));
const shown = (row: Row, column: Column) => {
  const mark = row.marks[column.ref];
  return mark ? half(mark.points) : "";
};
const touches = ({ from, to }: Block, row: number) =>
  row >= Math.min(from.row, to.row) && row <= Math.max(from.row, to.row);

function firstEmpty(rows: Row[], columns: Column[]): Place {
  const row = rows.findIndex((row) => presenceOf(row) === "here" && Object.keys(row.marks).length < columns.length);
  const column = columns.findIndex((column) => !rows[Math.max(0, row)]?.marks[column.ref]);
  return { row: Math.max(0, row), column: Math.max(0, column) };
}

/** Of the marks entered so far in a column, by those who were there. */
function share(rows: Row[], column: Column): number | null {
  const earned = rows.filter((row) => presenceOf(row) === "here").flatMap((row) => row.marks[column.ref]?.points ?? []);
  return earned.length === 0 ? null : earned.reduce((sum, points) => sum + points, 0) / (earned.length * column.marks);
}

function wholeShare(rows: Row[], maxTotal: number): number | null {
  const full = rows.filter((row) => row.state === "handed in");
  return full.length === 0 ? null : full.reduce((sum, row) => sum + row.total, 0) / (full.length * maxTotal);
}
