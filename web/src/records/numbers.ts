import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { type Place, pastedCells } from "../ui/cells";
import type { ClassRecord, RecordStudent } from "./use-record";

export type Numbers = Omit<Schemas["NumbersBody"], "reason">;
/** A column of the grid as it is typed along: `at` is its place among the terms or the sittings. */
export type Column = { kind: "term" | "sitting"; id: number; name: string; at: number };
type Entry =
  | { share: number }
  | { marks: number }
  | { away: "absent" | "excused" }
  | { clear: true }
  | { refused: string };

/** Terms stand before the sittings, as on the page. */
export const columnsOf = (record: ClassRecord): Column[] => [
  ...record.terms.map((one, at): Column => ({ kind: "term", id: one.id, name: one.name, at })),
  ...record.sittings.map((one, at): Column => ({ kind: "sitting", id: one.id, name: one.title, at })),
];

/** What a sitting is out of: for this student, else for whoever has a total in it. */
function outOf(record: ClassRecord, student: RecordStudent, column: Column): number | null {
  const own = student.cells[column.at]?.of;
  return own ?? record.students.map((student) => student.cells[column.at]?.of).find((of) => of != null) ?? null;
}

/** A number as it was typed: marks in a sitting, percent in a term, `75%` in either; A and E for absent and excused. */
export function readNumber(typed: string, record: ClassRecord, student: RecordStudent, column: Column): Entry {
  const text = typed.trim().toLowerCase();
  const cell = column.kind === "sitting" ? student.cells[column.at] : undefined;
  if (column.kind === "sitting" && !cell) return { refused: t`no place in this sitting` };
  if (text === "") return { clear: true };
  if (column.kind === "sitting" && /^(a|absent|e|excused)$/.test(text)) {
    if (cell?.total != null && !cell.set) return { refused: t`handed in: no absence` };
    return { away: text.startsWith("a") ? "absent" : "excused" };
  }
  const found = /^(\d{1,5}(?:[.,]\d+)?)\s*(%?)$/.exec(text);
  if (!found) return { refused: column.kind === "term" ? t`percent of the marks` : t`marks, or A or E` };
  const value = Number(found[1]?.replace(",", "."));
  if (column.kind === "term" || found[2]) {
    if (value > 100) return { refused: t`at most 100%` };
    if (column.kind === "term") return { share: value / 100 };
  }
  const of = outOf(record, student, column);
  if (found[2])
    return of === null ? { refused: t`nobody has marks here yet: type marks` } : { marks: (of * value) / 100 };
  if (of !== null && value > of) return { refused: t`at most ${of}` };
  return { marks: value };
}

export const nothing = (): Numbers => ({ totals: [], standings: [], away: [] });
export const countOf = (numbers: Numbers) =>
  (numbers.totals?.length ?? 0) + (numbers.standings?.length ?? 0) + (numbers.away?.length ?? 0);
export const isNothing = (numbers: Numbers) => countOf(numbers) === 0;

/** The change that an entry makes of a cell; nothing where it says what is there already. */
export function changeBy(entry: Entry, student: RecordStudent, column: Column): Numbers {
  const change = nothing();
  const cell = student.cells[column.at];
  const standing = student.terms[column.at];
  if (column.kind === "term") {
    const key = { student: student.student, term: column.id };
    if ("clear" in entry && standing?.set) change.standings?.push({ ...key, share: null });
    if ("share" in entry && (!same(entry.share, standing?.share) || standing?.carried))
      change.standings?.push({ ...key, share: entry.share });
  } else if (cell) {
    if ("clear" in entry && cell.set) change.totals?.push({ seat: cell.seat, total: null });
    if ("marks" in entry && !same(entry.marks, cell.total))
      change.totals?.push({ seat: cell.seat, total: entry.marks });
    if ("away" in entry && cell.word !== entry.away) change.away?.push({ seat: cell.seat, how: entry.away });
  }
  return change;
}

const same = (one: number, other: number | null | undefined) => other != null && Math.abs(one - other) < 1e-9;

/** What takes a change back, as the record stands before it; an absence stays. */
export function backFrom(change: Numbers, record: ClassRecord): Numbers {
  const back = nothing();
  for (const { seat } of change.totals ?? []) {
    const cell = record.students.flatMap((student) => student.cells).find((one) => one?.seat === seat);
    back.totals?.push({ seat, total: cell?.set ? cell.total : null });
  }
  for (const { student, term } of change.standings ?? []) {
    const at = record.terms.findIndex((one) => one.id === term);
    const cell = record.students.find((one) => one.student === student)?.terms[at];
    back.standings?.push({ student, term, share: cell?.set && !cell.carried ? cell.share : null });
  }
  return back;
}

export const together = (one: Numbers, other: Numbers): Numbers => ({
  totals: [...(one.totals ?? []), ...(other.totals ?? [])],
  standings: [...(one.standings ?? []), ...(other.standings ?? [])],
  away: [...(one.away ?? []), ...(other.away ?? [])],
});

/** What was typed into a cell and is on its way; null where nothing is. */
export function onItsWay(waiting: Numbers, student: RecordStudent, column: Column): string | null {
  if (column.kind === "term") {
    const own = waiting.standings?.findLast(
      (standing) => standing.student === student.student && standing.term === column.id,
    );
    return own ? (own.share === null ? "…" : `${Math.round(own.share * 1000) / 10}%`) : null;
  }
  const seat = student.cells[column.at]?.seat;
  const away = waiting.away?.findLast((one) => one.seat === seat);
  if (away) return away.how;
  const own = waiting.totals?.findLast((total) => total.seat === seat);
  return own ? (own.total === null ? "…" : String(own.total)) : null;
}

/** Text of a spreadsheet laid over the grid from a cell on; what cannot stand is named, the rest is taken. */
export function pasted(text: string, at: Place, record: ClassRecord) {
  const columns = columnsOf(record);
  let change = nothing();
  const refused: string[] = [];
  let outside = 0;
  for (const [down, line] of pastedCells(text).entries())
    for (const [along, cell] of line.entries()) {
      const [student, column] = [record.students[at.row + down], columns[at.column + along]];
      if (!student || !column) {
        if (cell.trim()) outside += 1;
        continue;
      }
      // A gap in what is pasted says nothing: it takes no number away.
      if (!cell.trim()) continue;
      const entry = readNumber(cell, record, student, column);
      if ("refused" in entry) refused.push(`${student.name}, ${column.name}: “${cell.trim()}”, ${entry.refused}`);
      else change = together(change, changeBy(entry, student, column));
    }
  if (outside > 0)
    refused.push(plural(outside, { one: "# cell lies beyond the grid", other: "# cells lie beyond the grid" }));
  return { change, refused };
}

/** What the field holds at first: a number as one would type it. */
export function typedNow(student: RecordStudent, column: Column): string {
  if (column.kind === "term") {
    const share = student.terms[column.at]?.share;
    return share == null ? "" : String(Math.round(share * 1000) / 10);
  }
  const cell = student.cells[column.at];
  return cell?.total == null ? "" : String(Math.round(cell.total * 100) / 100);
}
