import { describe, expect, it } from "vitest";
import {
  backFrom,
  changeBy,
  columnsOf,
  isNothing,
  nothing,
  onItsWay,
  pasted,
  readNumber,
  together,
  typedNow,
} from "./numbers";
import type { ClassRecord } from "./use-record";

const cell = (seat: number, total: number | null, more = {}) => ({
  seat,
  total,
  of: total === null ? null : 20,
  share: total === null ? null : total / 20,
  said: "",
  word: total === null ? "missing" : "",
  late: false,
  set: false,
  ...more,
});
const term = (share: number | null, more = {}) => ({ share, said: "", over: 1, carried: "", set: "", ...more });
const record = {
  class_id: 1,
  terms: [{ id: 3, name: "Autumn" }],
  sittings: [
    { id: 7, title: "Circuits" },
    { id: 8, title: "Oral" },
  ],
  students: [
    { student: 11, name: "Ada A.", terms: [term(0.6)], cells: [cell(101, 12), cell(201, null)] },
    { student: 12, name: "Ben B.", terms: [term(0.4, { set: "the bus" })], cells: [cell(102, 8, { set: true }), null] },
  ],
} as unknown as ClassRecord;
const [ada, ben] = record.students as [ClassRecord["students"][number], ClassRecord["students"][number]];
const [autumn, circuits, oral] = columnsOf(record) as [
  ReturnType<typeof columnsOf>[number],
  ReturnType<typeof columnsOf>[number],
  ReturnType<typeof columnsOf>[number],
];

describe("what is typed into a record", () => {
  it.each([
    ["12", { marks: 12 }],
    [" 12,5 ", { marks: 12.5 }],
    ["75%", { marks: 15 }],
    ["75 %", { marks: 15 }],
    ["", { clear: true }],
    ["20", { marks: 20 }],
    ["20.5", { refused: "at most 20" }],
    ["101%", { refused: "at most 100%" }],
    ["-3", { refused: "marks, or A or E" }],
    ["1e3", { refused: "marks, or A or E" }],
    ["E", { refused: "handed in: no absence" }],
  ])("%j in a sitting of 20", (typed, expected) => {
    expect(readNumber(typed, record, ada, circuits)).toEqual(expected);
  });
  it.each([
    ["a", { away: "absent" }],
    ["Excused", { away: "excused" }],
    ["7", { marks: 7 }],
    ["50%", { refused: "nobody has marks here yet: type marks" }],
  ])("%j where nobody has marks yet", (typed, expected) => {
    expect(readNumber(typed, record, ada, oral)).toEqual(expected);
  });
  it("is percent in a term, and nothing where there is no place", () => {
    expect(readNumber("62,5", record, ada, autumn)).toEqual({ share: 0.625 });
    expect(readNumber("62.5%", record, ada, autumn)).toEqual({ share: 0.625 });
    expect(readNumber("A", record, ada, autumn)).toEqual({ refused: "percent of the marks" });
    expect(readNumber("5", record, ben, oral)).toEqual({ refused: "no place in this sitting" });
  });
});

describe("what is kept of it", () => {
  it("says nothing where it says what is there", () => {
    expect(isNothing(changeBy({ marks: 12 }, ada, circuits))).toBe(true);
    expect(isNothing(changeBy({ share: 0.6 }, ada, autumn))).toBe(true);
    expect(isNothing(changeBy({ clear: true }, ada, circuits))).toBe(true); // nothing was set, so nothing is taken back
    expect(changeBy({ clear: true }, ben, circuits).totals).toEqual([{ seat: 102, total: null }]);
    expect(changeBy({ clear: true }, ben, autumn).standings).toEqual([{ student: 12, term: 3, share: null }]);
    expect(changeBy({ away: "excused" }, ada, oral).away).toEqual([{ seat: 201, how: "excused" }]);
  });
  it("sets what was only carried over, though the number is the same", () => {
    const carried = { ...ada, terms: [term(0.6, { carried: "Summer" })] } as typeof ada;
    expect(changeBy({ share: 0.6 }, carried, autumn).standings).toHaveLength(1);
  });
  it("is taken back to what a teacher had set, else to what is worked out", () => {
    const change = together(changeBy({ marks: 15 }, ada, circuits), changeBy({ marks: 3 }, ben, circuits));
    const both = together(change, changeBy({ share: 1 }, ben, autumn));
    expect(backFrom(both, record)).toEqual({
      totals: [
        { seat: 101, total: null },
        { seat: 102, total: 8 },
      ],
      standings: [{ student: 12, term: 3, share: 0.4 }],
      away: [],
    });
  });
  it("waits until it is kept, and the last word on a cell is what is seen of it", () => {
    const first = changeBy({ marks: 15 }, ada, circuits);
    const all = together(first, changeBy({ marks: 16 }, ada, circuits));
    expect(onItsWay(all, ada, circuits)).toBe("16");
    expect(onItsWay(all, ben, circuits)).toBe(null);
    expect(onItsWay(together(nothing(), changeBy({ share: 0.5 }, ada, autumn)), ada, autumn)).toBe("50%");
  });
});

it("a pasted block is taken cell by cell; gaps say nothing, and what cannot stand is named", () => {
  const { change, refused } = pasted("15\tE\r\n99\t4\n\n", { row: 0, column: 1 }, record);
  expect(change.totals).toEqual([{ seat: 101, total: 15 }]);
  expect(change.away).toEqual([{ seat: 201, how: "excused" }]);
  expect(refused).toEqual(["Ben B., Circuits: “99”, at most 20", "Ben B., Oral: “4”, no place in this sitting"]);
  expect(pasted("1\t2\t3", { row: 1, column: 2 }, record).refused).toContain("2 cells lie beyond the grid");
});

it("the field holds a number as one would type it", () => {
  expect([typedNow(ada, autumn), typedNow(ada, circuits), typedNow(ada, oral)]).toEqual(["60", "12", ""]);
});
