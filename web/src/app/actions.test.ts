import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import { actionsAnywhere, actionsHere, inHand, matching, noteRecent, recent } from "./actions";

const every = () => [...actionsAnywhere(), ...actionsHere({ sitting: "7", class: "7", test: "7" })];

/** Where one comes by something that is on a page, and not from everywhere: a student, a question, a lesson's rounds. */
const BY_ANOTHER_WAY = [
  "sittings/:sittingId/one-to-one",
  "sittings/:sittingId/watching",
  "sittings/:sittingId/camera",
  "sittings/:sittingId/rounds",
  "sittings/:sittingId/sheets/:seatId",
  "marking/:sittingId/same/:item",
  "comparisons/:comparisonId",
  "comparisons/:comparisonId/judge",
  "piles/:pileId",
  "piles/:pileId/mark",
  "records/:classId/students/:studentId",
];

test("every page is reached from the finder, or from a page by what is on it", () => {
  const router = readFileSync("src/app/router.tsx", "utf-8");
  const pages = [...router.matchAll(/path: "([^"*]+)"/g)].map((found) => found[1] ?? "");
  const reached = new Set(every().map(({ to }) => to.replace(/^\//, "").replace(/\b7\b/, ":id")));
  const missing = pages
    .filter((page) => page !== "/" && !BY_ANOTHER_WAY.includes(page))
    .filter((page) => !reached.has(page.replace(/\/:\w+\?$/, "").replace(/:\w+/, ":id")));
  expect(missing).toEqual([]);
  expect(pages.length).toBeGreaterThan(40);
  expect(new Set(every().map(({ to }) => to)).size).toBe(every().length);
});

test("what others call a thing finds it", () => {
  const first = (typed: string) => matching(every(), typed)[0]?.to;
  const asked: Record<string, string> = {
    grade: "/marking/7",
    quiz: "/tests",
    marksheet: "/records",
    import: "/classes",
    absent: "/sittings/7",
    "new pass": "/classes",
    feedb: "/marking/comments",
    print: "/tests",
    "item anal": "/findings",
    regrade: "/results/7/questions",
  };
  for (const [typed, to] of Object.entries(asked)) {
    expect(matching(every(), typed).map((one) => one.to)).toContain(to);
    expect(first(typed)).toBeDefined();
  }
  expect(first("security")).toBe("/people/log");
  expect(matching(every(), "")).toEqual([]);
  expect(matching(every(), "zzz")).toEqual([]);
});

test("the thing in hand is told from the address", () => {
  expect(inHand("/marking/12/pile")).toEqual({ sitting: "12" });
  expect(inHand("/records/3/growth")).toEqual({ class: "3" });
  expect(inHand("/tests/5")).toEqual({ test: "5" });
  for (const path of ["/", "/marking", "/marking/comments", "/sittings/scans/4", "/piles/3", "/bank/1f"])
    expect(inHand(path)).toEqual({});
});

test("the last four places are remembered once each, and a broken store is none", () => {
  const kept = new Map<string, string>();
  const store = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (k: string, v: string) => void kept.set(k, v),
  };
  for (const to of ["/a", "/b", "/c", "/a", "/d", "/e"]) noteRecent(to, store);
  expect(recent(store)).toEqual(["/e", "/d", "/a", "/c"]);
  expect(recent({ getItem: () => "{" })).toEqual([]);
  expect(recent({ getItem: () => "7" })).toEqual([]);
});
