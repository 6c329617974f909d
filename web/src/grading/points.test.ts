import { expect, test } from "vitest";
import { beside, sum, verdict } from "./points";

const CRITERIA = [{ id: "a", name: "Idea" }, { id: "b", name: "Words" }, { id: "c" }];

test("a sample answer says where one was above and below it", () => {
  const judged = beside(CRITERIA, { a: 2.5, b: 0, c: 1 }, { a: 2, b: 2 }, { a: "no units" });
  expect(judged).toEqual([
    { criterion: "Idea", given: 2.5, sample: 2, reason: "no units" },
    { criterion: "Words", given: 0, sample: 2, reason: "" },
  ]);
  expect(verdict(judged)).toBe("Idea: half a point above the sample; Words: 2 points below the sample.");
  expect(verdict(beside(CRITERIA, { a: 2, b: 2, c: 3 }, { a: 2, b: 2 }))).toBe("As the sample.");
  expect(sum({ a: 2.5, b: 1 })).toBe(3.5);
});
