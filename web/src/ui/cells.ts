import { parse } from "papaparse";
import { useEffect, useRef, useState } from "react";

export type Place = { row: number; column: number };
/** A rectangle of cells, both corners in it. */
export type Block = { from: Place; to: Place };
type Way = "up" | "down" | "left" | "right";

/** Where a key leads. Across goes on with the next row, down with the next column; null beyond the last cell. */
export function moved(at: Place, to: Way, rows: number, columns: number): Place | null {
  const { row, column } = at;
  if (to === "up") return row > 0 ? { row: row - 1, column } : null;
  if (to === "left")
    return column > 0 ? { row, column: column - 1 } : row > 0 ? { row: row - 1, column: columns - 1 } : null;
  if (to === "down")
    return row + 1 < rows ? { row: row + 1, column } : column + 1 < columns ? { row: 0, column: column + 1 } : null;
  return column + 1 < columns ? { row, column: column + 1 } : row + 1 < rows ? { row: row + 1, column: 0 } : null;
}

/** Text from a spreadsheet as cells; one that holds a line end or a quotation mark comes in quotation marks. */
export const pastedCells = (text: string): string[][] =>
  parse<string[]>(text.replace(/\r\n?/g, "\n").replace(/\n$/, ""), { delimiter: "\t", newline: "\n" }).data;

const ARROWS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

type Options = {
  rows: number;
  columns: number;
  first: () => Place;
  /** Takes what was typed into a cell; why not, where it cannot stand. */
  take: (typed: string, at: Place) => string | null;
  /** Whether something else on the page comes first. */
  waits?: boolean;
};

/** A grid that is moved through like a spreadsheet: one cell holds the field, the keys lead on. */
export function useCells({ rows, columns, first, take: takes, waits = false }: Options) {
  const [at, setAt] = useState<Place>(first);
  const [anchor, setAnchor] = useState<Place | null>(null);
  const [draft, setDraft] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const after = useRef<HTMLParagraphElement>(null);
  // Whether the field is to have the focus in the cell it comes to; at first too: numbers are what one is here for.
  const follows = useRef(!waits);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the field moves to another cell, and what it holds is marked again
  useEffect(() => {
    if (!follows.current) return;
    follows.current = false;
    input.current?.focus();
    input.current?.select();
  }, [at, anchor]);

  const go = (to: Place | null, extend = false) => {
    if (!to) return;
    follows.current = true;
    setAnchor(extend ? (anchor ?? at) : null);
    setAt(to);
  };
  /** Takes what was typed; false where it cannot stand, and then the cell stays. */
  const take = (typed = draft): boolean => {
    if (typed === null) return true;
    const why = takes(typed, at);
    setRefused(why);
    if (why !== null) return false;
    setDraft(null);
    return true;
  };
  const drop = () => {
    setDraft(null);
    setRefused(null);
    // What stands there again is marked again: the next number takes its place and is not written behind it.
    requestAnimationFrame(() => input.current === document.activeElement && input.current?.select());
  };
  const step = (to: Way) => moved(at, to, rows, columns);
  const type = (typed: string) => {
    setDraft(typed);
    setRefused(null);
  };

  /** The keys that lead from cell to cell. */
  const onKey = (event: React.KeyboardEvent) => {
    const arrow = ARROWS[event.key];
    const done = () => event.preventDefault();
    const ends = event.key === "Home" || event.key === "End";
    if (event.ctrlKey || event.metaKey) {
      if (!ends) return;
      done();
      const last = { row: rows - 1, column: columns - 1 };
      if (take()) go(event.key === "Home" ? { row: 0, column: 0 } : last, event.shiftKey);
    } else if (arrow) {
      done();
      // An arrow stays at the edge; only Tab and Enter go round it.
      const next = { row: at.row + (arrow[0] ?? 0), column: at.column + (arrow[1] ?? 0) };
      const there = next.row >= 0 && next.row < rows && next.column >= 0 && next.column < columns;
      if (take() && there) go(next, event.shiftKey);
    } else if (event.key === "Tab") {
      const next = step(event.shiftKey ? "left" : "right");
      if (!take()) done();
      else if (next) {
        done();
        go(next);
      }
    } else if (event.key === "Enter") {
      done();
      if (take()) go(step(event.shiftKey ? "up" : "down"));
    } else if (event.key === "Escape") {
      done();
      if (draft !== null || anchor) {
        drop();
        setAnchor(null);
      } else after.current?.focus();
    } else if (ends) {
      done();
      if (take()) go({ row: at.row, column: event.key === "Home" ? 0 : columns - 1 }, event.shiftKey);
    }
  };
  return {
    at,
    anchor,
    block: { from: anchor ?? at, to: at } as Block,
    draft,
    refused,
    /** Of the field, and of what stands after the grid, where Escape leads. */
    input,
    after,
    go,
    take,
    drop,
    step,
    type,
    onKey,
  };
}
