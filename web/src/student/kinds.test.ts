import { describe, expect, it } from "vitest";
import { give, pickedIn, type Question } from "./kinds";

const question = (kind: string): Question => ({
  ref: "q",
  number: 1,
  item: { kind, stem: "", marks: 1, options: [] },
});

describe("kinds", () => {
  it("a picked option becomes a response and is found in it again", () => {
    for (const [kind, option] of [
      ["single_choice", "x7"],
      ["true_false", "true"],
      ["true_false", "false"],
    ] as const) {
      const response = give(question(kind), option);
      expect(response.kind).toBe(kind);
      expect(pickedIn(response)).toBe(option);
    }
  });

  it("nothing picked is nothing", () => {
    expect(pickedIn(null)).toBeNull();
    expect(pickedIn({ kind: "single_choice", option: null })).toBeNull();
    expect(pickedIn({ kind: "true_false", value: null })).toBeNull();
  });
});
