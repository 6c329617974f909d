import { expect, test } from "vitest";
import { placeTyped } from "./history";

const draft = (texts: string[], stem = "Which?") => ({ stem, options: texts.map((text) => ({ text })) });

test("typing is one field's text; what a button does is no typing", () => {
  expect(placeTyped(draft(["a", "b"]), draft(["a", "bc"]))).toBe("options/1/text/");
  expect(placeTyped(draft(["a"]), draft(["a"], "Which one?"))).toBe("stem/");
  expect(placeTyped(draft(["a", "b"]), draft(["a"]))).toBeNull();
  expect(placeTyped(draft(["a"]), draft(["a", ""]))).toBeNull();
  // Two options that change places differ in two texts.
  expect(placeTyped(draft(["a", "b"]), draft(["b", "a"]))).toBeNull();
  expect(placeTyped({ passage: null }, { passage: "p1" })).toBeNull();
  expect(placeTyped({ kind: "gaps", gap: "x" }, { kind: "gaps", other: "x" })).toBeNull();
});
