import { expect, test } from "vitest";
import { closedIn, timeOfSitting } from "./by-time";

const NOW = new Date(2026, 10, 30, 15, 20);
const planned = (at: Date | null) =>
  timeOfSitting({ state: "planned", planned_for: at?.toISOString() ?? null, marks_only: false }, NOW);

test("a sitting stands where its day is, not its hour", () => {
  expect(planned(new Date(2026, 10, 30, 9))).toBe("today"); // this morning, and still to be opened
  expect(planned(new Date(2026, 10, 30, 23, 59))).toBe("today");
  expect(planned(new Date(2026, 11, 1, 0, 0))).toBe("week");
  expect(planned(new Date(2026, 11, 7, 8))).toBe("later");
  expect(planned(new Date(2026, 10, 29, 23, 59))).toBe("missed");
  expect(planned(null)).toBe("later");
  const since = { planned_for: null, marks_only: false };
  expect(timeOfSitting({ ...since, state: "paused" }, NOW)).toBe("paused");
  expect(timeOfSitting({ ...since, state: "paused", marks_only: true }, NOW)).toBe("entering");
  expect(timeOfSitting({ ...since, state: "released" }, NOW)).toBe("closed");
});

test("what was closed within a week stands by itself, the rest by month and year", () => {
  expect(closedIn(new Date(2026, 10, 24).toISOString(), NOW)).toBeNull();
  expect(closedIn(new Date(2026, 10, 2).toISOString(), NOW)).toEqual(new Date(2026, 10, 1));
  expect(closedIn(new Date(2025, 10, 2).toISOString(), NOW)).toEqual(new Date(2025, 10, 1));
});
