import { expect, test } from "vitest";
import type { ResultLine } from "../grading/use-results";
import { lookedAt, remarks, saidOf } from "./results-view";

const line = (
  desk: number,
  name: string,
  total: number | null,
  of = 20,
  more: Partial<ResultLine> = {},
): ResultLine => ({
  seat: desk,
  student: 100 + desk,
  desk,
  name,
  state: "handed in",
  handed_in_at: null,
  late: false,
  earned: total,
  lost: 0,
  total,
  of,
  waiting: 0,
  set_reason: "",
  out_reason: "",
  sees: "",
  total_held: false,
  ...more,
});
const CLASS = [line(2, "Ada A.", 10), line(1, "Ümit B.", 5), line(4, "Cem C.", null), line(3, "Zoë D.", 5, 8)];
const names = (order: string, below = "", members: Set<number> | null = null) =>
  lookedAt(CLASS, members, { order, below, group: "" }).map((one) => one.name.split(" ")[0]);

test("orders go by the share of the marks, ties by desk, and who has no total comes last", () => {
  expect(names("desk")).toEqual(["Ümit", "Ada", "Zoë", "Cem"]);
  expect(names("least")).toEqual(["Ümit", "Ada", "Zoë", "Cem"]); // 25%, 50%, 62.5%
  expect(names("most")).toEqual(["Zoë", "Ada", "Ümit", "Cem"]);
  expect(names("name")).toEqual(["Ada", "Cem", "Ümit", "Zoë"]);
  expect(CLASS.map((one) => one.desk)).toEqual([2, 1, 4, 3]); // what came from the server is left as it came
});

test("under a cut is who is under it and has a total; a group is its members", () => {
  expect(names("desk", "50")).toEqual(["Ümit"]);
  expect(names("desk", "60")).toEqual(["Ümit", "Ada"]);
  expect(names("desk", "", new Set([103, 104]))).toEqual(["Zoë", "Cem"]);
  expect(names("desk", "50", new Set([103, 104]))).toEqual([]);
});

test("what there is to say of a result is said once", () => {
  expect(remarks(line(1, "A", 5))).toBe("");
  const late = line(1, "A", 5, 20, { earned: 7, lost: 2, waiting: 1 });
  expect(remarks(late)).toBe("late, 2 taken off 7 · 1 answer not marked");
  // A total that was set takes the place of what lateness cost.
  expect(remarks({ ...late, set_reason: "The bus.", waiting: 0 })).toBe("set by hand: The bus.");
  expect(remarks(line(1, "A", null, 20, { state: "absent" }))).toBe("absent");
});

test("what was said is the whole first, then question by question", () => {
  const full = {
    questions: [
      { number: 1, label: "1", of: 2 },
      { number: 2, label: "2b", of: 3 },
    ],
    criteria: [],
    students: [{ seat: 1, marks: [2, null], criteria: [], said: ["", "Mind the unit."], comment: "Go on." }],
  };
  expect(saidOf(full, 1)).toBe("Go on.\n2b: Mind the unit.");
  expect(saidOf(full, 9)).toBe("");
  expect(saidOf(undefined, 1)).toBe("");
});
