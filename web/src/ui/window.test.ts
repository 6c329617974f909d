import { expect, test } from "vitest";
import { windowOf } from "./window";

test("a class is drawn whole, a year only where one looks", () => {
  expect(windowOf(0, 24, 26, 12)).toEqual({ first: 0, last: 24 });
  const { first, last } = windowOf(4_000, 300, 26, 12);
  expect(first).toBeLessThanOrEqual(Math.floor(4_000 / 26));
  expect(last).toBeGreaterThan(Math.floor(4_000 / 26) + 40);
  expect(last - first).toBeLessThan(70);
  expect(windowOf(1e9, 300, 26, 12).last).toBe(300);
});
