import { expect, test } from "vitest";
import { lookedAt } from "./columns";
import type { ClassRecord } from "./use-record";

const cell = (share: number) => ({
  seat: 1,
  total: share * 10,
  of: 10,
  share,
  said: "",
  word: "",
  late: false,
  set: false,
});
const record = {
  average: 0.5,
  sittings: [{ id: 7 }, { id: 8 }, { id: 9 }],
  students: [
    { student: 1, average: 0.9, cells: [cell(1), null, cell(0.8)] },
    { student: 2, average: 0.4, cells: [cell(0.2), cell(0.6), null] },
    { student: 3, average: null, cells: [null, null, null] },
  ],
} as unknown as ClassRecord;

test("hidden sittings go with their cells, and the rest stays as it was", () => {
  const seen = lookedAt(record, [8], null);
  expect(seen.sittings.map((sitting) => sitting.id)).toEqual([7, 9]);
  expect(seen.students.map((student) => student.cells.map((cell) => cell?.share ?? null))).toEqual([
    [1, 0.8],
    [0.2, null],
    [null, null],
  ]);
  expect(seen.students.map((student) => student.average)).toEqual([0.9, 0.4, null]);
  expect(lookedAt(record, [], null)).toEqual(record);
});

test("a cut leaves who is under it, and not who has nothing", () => {
  expect(lookedAt(record, [], 50).students.map((student) => student.student)).toEqual([2]);
  expect(lookedAt(record, [7, 8, 9], 40).students).toEqual([]);
});
