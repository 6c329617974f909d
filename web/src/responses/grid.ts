import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { type Block, type Place, pastedCells } from "../ui/cells";

export type Column = Schemas["MarkColumn"];
export type Row = Schemas["MarkRow"];
export type How = Schemas["PresenceIn"]["how"];
/** What is to be kept: cells, and who was away. Sent in one piece, kept in one piece. */
export type Change = { marks: Schemas["MarkIn"][]; presence: { seat: number; how: How }[] };

type Entry = { points: number | null } | { away: "absent" | "excused" } | { refused: string };

const number = /^(\d{0,3})(?:[.,](\d+))?(½?)$/;

/** A mark as it was typed or pasted: 3, 3.5, 3,5, 3½; nothing; or A and E for absent and excused. */
export function readEntry(typed: string, column: Column): Entry {
  const text = typed.trim().toLowerCase();
  if (text === "") return { points: null };
  if (text === "a" || text === "absent") return { away: "absent" };
  if (text === "e" || text === "excused") return { away: "excused" };
  const parts = number.exec(text);
  if (!parts || text === "." || text === ",") return { refused: t`a number, A or E` };
  const points = Number(`${parts[1] || 0}.${parts[2] ?? 0}`) + (parts[3] ? 0.5 : 0);
  if (points > column.marks) return { refused: t`at most ${column.marks}` };
  if (!Number.isInteger(column.half_marks ? points * 2 : points))
    return { refused: column.half_marks ? t`in halves` : t`whole marks` };
  return { points };
}

/** Whether more could still be typed: 1 of 12 may become 11, 4 of 6 is done. */
export const isFull = (typed: string, column: Column) =>
  !column.half_marks && typed.trim() !== "" && Number(typed) * 10 > column.marks;

export const presenceOf = (row: Row): How =>
  row.state === "absent" ? "absent" : row.state === "excused" ? "excused" : "here";

export function within({ from, to }: Block, row: number, column: number): boolean {
  return (
    row >= Math.min(from.row, to.row) &&
    row <= Math.max(from.row, to.row) &&
    column >= Math.min(from.column, to.column) &&
    column <= Math.max(from.column, to.column)
  );
}

function* cellsOf({ from, to }: Block): Generator<Place> {
  for (let row = Math.min(from.row, to.row); row <= Math.max(from.row, to.row); row++)
    for (let column = Math.min(from.column, to.column); column <= Math.max(from.column, to.column); column++)
      yield { row, column };
}

/** A block as text for the clipboard: cells between tabs, rows between line ends. */
export function copied(block: Block, rows: Row[], columns: Column[]): string {
  const lines = new Map<number, string[]>();
  for (const { row, column } of cellsOf(block)) {
    const points = rows[row]?.marks[columns[column]?.ref ?? ""]?.points;
    lines.set(row, [...(lines.get(row) ?? []), points === undefined ? "" : String(points)]);
  }
  return [...lines.values()].map((line) => line.join("\t")).join("\n");
}

export function cleared(block: Block, rows: Row[], columns: Column[]): Change {
  const marks = [...cellsOf(block)].flatMap(({ row, column }) => {
    const [seat, item] = [rows[row]?.seat, columns[column]?.ref];
    return seat !== undefined && item && rows[row]?.marks[item] ? [{ seat, item, points: null }] : [];
  });
  return { marks, presence: [] };
}

/** Text from a spreadsheet laid over the grid from a cell on; what cannot stand is named, the rest is taken. */
export function pasted(text: string, at: Place, rows: Row[], columns: Column[]) {
  const change: Change = { marks: [], presence: [] };
  const refused: string[] = [];
  let outside = 0;
  for (const [down, line] of pastedCells(text).entries()) {
    for (const [along, cell] of line.entries()) {
      const [row, column] = [rows[at.row + down], columns[at.column + along]];
      if (!row || !column) {
        if (cell.trim()) outside += 1;
        continue;
      }
      const entry = readEntry(cell, column);
      if ("refused" in entry) refused.push(`${row.name}, ${column.label}: “${cell.trim()}”, ${entry.refused}`);
      else if ("away" in entry) {
        if (!change.presence.some((one) => one.seat === row.seat))
          change.presence.push({ seat: row.seat, how: entry.away });
      } else if (entry.points !== null || row.marks[column.ref])
        change.marks.push({ seat: row.seat, item: column.ref, points: entry.points });
    }
  }
  if (outside > 0)
    refused.push(plural(outside, { one: "# cell lies beyond the grid", other: "# cells lie beyond the grid" }));
  return { change, refused };
}

/** The first row of a block in all its rows; a single cell takes what stands above it. */
export function filledDown(block: Block, rows: Row[], columns: Column[]): Change {
  const one = block.from.row === block.to.row;
  const top = Math.min(block.from.row, block.to.row) - (one ? 1 : 0);
  const marks = [...cellsOf(block)].flatMap(({ row, column }) => {
    const [seat, item] = [rows[row]?.seat, columns[column]?.ref];
    const above = item ? rows[top]?.marks[item] : undefined;
    return row !== top && seat !== undefined && item && above ? [{ seat, item, points: above.points }] : [];
  });
  return { marks, presence: [] };
}

/** What takes a change back, as the rows stand before it. */
export function inverse(change: Change, rows: Row[]): Change {
  const row = new Map(rows.map((row) => [row.seat, row]));
  const away = new Set(change.presence.map(({ seat }) => seat));
  for (const { seat } of change.marks) {
    const before = row.get(seat);
    if (before && presenceOf(before) !== "here") away.add(seat);
  }
  return {
    marks: change.marks.map(({ seat, item }) => ({ seat, item, points: row.get(seat)?.marks[item]?.points ?? null })),
    presence: [...away].map((seat) => {
      const before = row.get(seat);
      return { seat, how: before ? presenceOf(before) : "here" };
    }),
  };
}

/** Rows with changes that are on their way, as they will be: a mark makes an absent student present. */
export function overlaid(rows: Row[], changes: Change[]): Row[] {
  if (changes.length === 0) return rows;
  const before = new Map(rows.map((row) => [row.seat, row]));
  // Only rows that change are new objects, so that the others need not be drawn again.
  const next = new Map<number, Row>();
  const open = (seat: number): Row | null => {
    const row = next.get(seat) ?? before.get(seat);
    if (!row) return null;
    if (!next.has(seat)) next.set(seat, { ...row, marks: { ...row.marks } });
    return next.get(seat) ?? null;
  };
  for (const { marks, presence } of changes) {
    for (const { seat, item, points } of marks) {
      const row = open(seat);
      if (!row) continue;
      if (points === null) delete row.marks[item];
      else row.marks[item] = { points, by_student: false };
      if (presenceOf(row) !== "here") row.state = "working";
    }
    for (const { seat, how } of presence) {
      const row = open(seat);
      if (row) row.state = how === "here" ? "working" : how;
    }
  }
  return rows.map((row) => {
    const changed = next.get(row.seat);
    if (!changed) return row;
    return { ...changed, total: Object.values(changed.marks).reduce((sum, mark) => sum + mark.points, 0) };
  });
}

/** Changes as one: the last word on a cell counts, and a mark after an absence takes it back. */
export function joined(changes: Change[]): Change {
  const marks = new Map<string, Change["marks"][number]>();
  const presence = new Map<number, How>();
  for (const change of changes) {
    for (const mark of change.marks) {
      marks.set(`${mark.seat} ${mark.item}`, mark);
      presence.delete(mark.seat);
    }
    for (const { seat, how } of change.presence) presence.set(seat, how);
  }
  return { marks: [...marks.values()], presence: [...presence].map(([seat, how]) => ({ seat, how })) };
}
