import { describe, expect, it } from "vitest";
import { moved, pastedCells } from "../ui/cells";
import {
  type Change,
  type Column,
  cleared,
  copied,
  filledDown,
  inverse,
  isFull,
  joined,
  overlaid,
  pasted,
  presenceOf,
  type Row,
  readEntry,
} from "./grid";

const column = (label: string, marks: number, half_marks = false): Column => ({
  ref: `ref-${label}`,
  label,
  marks,
  half_marks,
  about: "",
  skills: [],
});
const columns = [column("1–2a", 6), column("2b", 4, true), column("3", 12)];

const row = (seat: number, points: (number | null)[], state: Row["state"] = "working"): Row => ({
  seat,
  desk: seat,
  name: `S${seat}`,
  full_name: `S${seat}`,
  family_name: "",
  given_name: `S${seat}`,
  number: "",
  state,
  here: false,
  last_seen: null,
  marks: Object.fromEntries(
    points.flatMap((value, at) =>
      value === null ? [] : [[columns[at]?.ref ?? "", { points: value, by_student: false }]],
    ),
  ),
  total: points.reduce<number>((sum, value) => sum + (value ?? 0), 0),
});

/** What is to be seen of rows: marks, totals, who is away. */
const seen = (rows: Row[]) =>
  rows.map((row) => [
    row.seat,
    presenceOf(row),
    row.total,
    columns.map(({ ref }) => row.marks[ref]?.points ?? null).join(),
  ]);

/** A linear congruential generator (constants of Numerical Recipes), so that a failure can be seen again. */
function seeded(seed: number) {
  let state = seed >>> 0;
  return (below: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

function anyRows(random: (below: number) => number): Row[] {
  return Array.from({ length: 5 }, (_, at) =>
    row(
      at + 1,
      columns.map(({ marks }) => (random(3) === 0 ? null : random(marks + 1))),
      (["working", "handed in", "absent", "excused"] as const)[random(4)],
    ),
  );
}

function anyChange(random: (below: number) => number): Change {
  const marks = Array.from({ length: random(4) }, () => {
    const one = columns[random(columns.length)] as Column;
    return { seat: random(5) + 1, item: one.ref, points: random(4) === 0 ? null : random(one.marks + 1) };
  });
  const presence = random(3)
    ? []
    : [{ seat: random(5) + 1, how: (["here", "absent", "excused"] as const)[random(3)] ?? "here" }];
  return { marks, presence };
}

describe("a mark as it is typed", () => {
  it.each([
    ["5", 0, { points: 5 }],
    [" 6 ", 0, { points: 6 }],
    ["", 0, { points: null }],
    ["0", 0, { points: 0 }],
    ["3,5", 1, { points: 3.5 }],
    ["3½", 1, { points: 3.5 }],
    [".5", 1, { points: 0.5 }],
    ["½", 1, { points: 0.5 }],
    ["A", 0, { away: "absent" }],
    ["excused", 0, { away: "excused" }],
    ["7", 0, { refused: "at most 6" }],
    ["2.5", 0, { refused: "whole marks" }],
    ["2.25", 1, { refused: "in halves" }],
    ["six", 0, { refused: "a number, A or E" }],
    ["-1", 0, { refused: "a number, A or E" }],
    [".", 1, { refused: "a number, A or E" }],
    ["1e1", 2, { refused: "a number, A or E" }],
  ])("“%s” in column %i", (typed, at, entry) => {
    expect(readEntry(typed, columns[at] as Column)).toEqual(entry);
  });

  it("leads on when no digit more could stand", () => {
    const [six, halves, twelve] = columns as [Column, Column, Column];
    expect([isFull("1", six), isFull("0", six), isFull("", six)]).toEqual([true, false, false]);
    expect([isFull("1", twelve), isFull("2", twelve), isFull("12", twelve)]).toEqual([false, true, true]);
    expect(isFull("4", halves)).toBe(false);
  });
});

describe("the ways through the grid", () => {
  it("goes across into the next row, down into the next column, and stops at the end", () => {
    expect(moved({ row: 0, column: 2 }, "right", 3, 3)).toEqual({ row: 1, column: 0 });
    expect(moved({ row: 1, column: 0 }, "left", 3, 3)).toEqual({ row: 0, column: 2 });
    expect(moved({ row: 2, column: 1 }, "down", 3, 3)).toEqual({ row: 0, column: 2 });
    expect(moved({ row: 2, column: 2 }, "down", 3, 3)).toBeNull();
    expect(moved({ row: 2, column: 2 }, "right", 3, 3)).toBeNull();
    expect(moved({ row: 0, column: 0 }, "up", 3, 3)).toBeNull();
    expect(moved({ row: 0, column: 0 }, "left", 3, 3)).toBeNull();
  });

  it("reaches every cell once by Tab and once by Enter", () => {
    for (const way of ["right", "down"] as const) {
      const met = new Set<string>();
      for (let at: ReturnType<typeof moved> = { row: 0, column: 0 }; at; at = moved(at, way, 4, 3))
        met.add(`${at.row} ${at.column}`);
      expect(met.size).toBe(12);
    }
  });
});

describe("blocks", () => {
  it("takes what can stand and names the rest", () => {
    const rows = [row(1, [null, null, null]), row(2, [1, null, null])];
    const { change, refused } = pasted("5\t9\t12\r\n\tabsent\tx\n1\n", { row: 0, column: 0 }, rows, columns);
    expect(seen(overlaid(rows, [change]))).toEqual([
      [1, "here", 17, "5,,12"],
      [2, "absent", 0, ",,"],
    ]);
    expect(refused).toEqual(["S1, 2b: “9”, at most 4", "S2, 3: “x”, a number, A or E", "1 cell lies beyond the grid"]);
  });

  it("fills the first row of a block down, or from above where it is one cell", () => {
    const rows = [row(1, [5, 2, null]), row(2, [null, 1, 3]), row(3, [null, null, null])];
    const block = { from: { row: 2, column: 1 }, to: { row: 0, column: 0 } };
    expect(seen(overlaid(rows, [filledDown(block, rows, columns)])).map((one) => one[3])).toEqual([
      "5,2,",
      "5,2,3",
      "5,2,",
    ]);
    const one = { from: { row: 2, column: 2 }, to: { row: 2, column: 2 } };
    expect(seen(overlaid(rows, [filledDown(one, rows, columns)]))[2]).toEqual([3, "here", 3, ",,3"]);
  });

  it("comes back from the clipboard as it went, whatever the block", () => {
    for (let seed = 1; seed <= 60; seed++) {
      const random = seeded(seed);
      const rows = anyRows(random).map((anyRow) => ({ ...anyRow, state: "working" as const }));
      const place = () => ({ row: random(5), column: random(3) });
      const block = { from: place(), to: place() };
      const top = {
        row: Math.min(block.from.row, block.to.row),
        column: Math.min(block.from.column, block.to.column),
      };
      const without = overlaid(rows, [cleared(block, rows, columns)]);
      const { change, refused } = pasted(copied(block, rows, columns), top, without, columns);
      expect(refused).toEqual([]);
      expect(seen(overlaid(without, [change]))).toEqual(seen(rows));
    }
  });
});

describe("changes on their way", () => {
  it("are taken back as they were made, one or many", () => {
    for (let seed = 1; seed <= 200; seed++) {
      const random = seeded(seed);
      const start = anyRows(random);
      const steps: Change[] = [];
      let rows = start;
      for (let n = 0; n < 4; n++) {
        const change = anyChange(random);
        steps.unshift(inverse(change, rows));
        rows = overlaid(rows, [change]);
      }
      expect(seen(overlaid(rows, steps))).toEqual(seen(start));
    }
  });

  it("say the same in one piece as one after another", () => {
    for (let seed = 1; seed <= 200; seed++) {
      const random = seeded(seed);
      const rows = anyRows(random);
      const changes = [anyChange(random), anyChange(random), anyChange(random)];
      expect(seen(overlaid(rows, [joined(changes)]))).toEqual(seen(overlaid(rows, changes)));
    }
  });

  it("leave rows that do not change as the objects they were", () => {
    const rows = [row(1, [1, null, null]), row(2, [2, null, null])];
    const next = overlaid(rows, [{ marks: [{ seat: 2, item: "ref-3", points: 9 }], presence: [] }]);
    expect(next[0]).toBe(rows[0]);
    expect(next[1]?.total).toBe(11);
  });
});

it("takes a cell apart from its neighbours though it holds a line end or a quotation mark", () => {
  // As spreadsheets copy such cells: in quotation marks, with those inside doubled.
  expect(pastedCells('1\t"two\nlines"\t3\n"say ""x"""\t5\t6\n')).toEqual([
    ["1", "two\nlines", "3"],
    ['say "x"', "5", "6"],
  ]);
});
