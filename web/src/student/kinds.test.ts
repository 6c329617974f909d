import { describe, expect, it } from "vitest";
import { signOf, takesAnAnswer } from "./kinds";
import type { Item, Response } from "./kinds/types";

const shared = { stem: "?", marks: 1 };
const option = (id: string, letter: string) => ({ id, letter, text: id });
const CASES: [Item, Response, string][] = [
  [
    { kind: "single_choice", ...shared, options: [option("x", "A"), option("y", "B")] },
    { kind: "single_choice", option: "y" },
    "B",
  ],
  [
    { kind: "several_answers", ...shared, options: [option("x", "A"), option("y", "B"), option("z", "C")] },
    { kind: "several_answers", options: ["z", "x"] },
    "AC",
  ],
  [{ kind: "true_false", ...shared }, { kind: "true_false", value: false }, "F"],
  [{ kind: "numeric", ...shared, unit: "", unit_wanted: false }, { kind: "numeric", text: "12.5" }, "12.5"],
  [{ kind: "short_text", ...shared }, { kind: "short_text", text: "electromagnet" }, "electr…"],
  [
    { kind: "gaps", ...shared, text: "[a] [b]", gaps: ["a", "b"].map((name) => ({ name, choices: [] })) },
    { kind: "gaps", gaps: { a: "one", b: "" } },
    "1/2",
  ],
  [
    { kind: "matching", ...shared, rows: [{ id: "r", text: "" }], choices: [option("x", "A")] },
    { kind: "matching", pairs: { r: "x" } },
    "1/1",
  ],
  [{ kind: "ordering", ...shared, entries: [] }, { kind: "ordering", order: ["a", "b"] }, "✓"],
  [{ kind: "expression", ...shared }, { kind: "expression", text: "a+b" }, "a+b"],
  [
    { kind: "picture_point", ...shared, picture: null, picture_words: "", ratio: 1 },
    { kind: "picture_point", x: 0, y: 0 },
    "✓",
  ],
  [
    { kind: "file", ...shared, accepts: [], file_kinds: [], most_files: 2, most_megabytes: 1, rubric: null },
    { kind: "file", files: [{ file: "f", name: "a.pdf", bytes: 1 }] },
    "1 file",
  ],
];

describe("kinds", () => {
  for (const [item, response, sign] of CASES)
    it(`${item.kind}: an answer in a few signs`, () => {
      expect(signOf(response, item)).toBe(sign);
      expect(takesAnAnswer(item)).toBe(true);
    });

  it("no answer, and an answer of another kind, have no sign", () => {
    const [item] = CASES[0] ?? [];
    if (!item) throw new Error("no case");
    expect(signOf(null, item)).toBe("");
    expect(signOf({ kind: "true_false", value: true }, item)).toBe("");
  });

  it("a performance waits for nothing from the device", () => {
    expect(takesAnAnswer({ kind: "performance", ...shared, minutes: 0, rubric: null })).toBe(false);
  });
});
