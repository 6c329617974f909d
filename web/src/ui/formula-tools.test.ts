import { describe, expect, it } from "vitest";
import { formulaAround } from "./formula-tools";
import { drawFormula } from "./formulas";

describe("the formula around the cursor", () => {
  const text = "$5 and $10, or $a + b$ and $c$";
  it("is found from one dollar sign to the other, and money is none", () => {
    expect([...text].map((_, cursor) => formulaAround(text, cursor)).filter(Boolean)).toEqual([
      ...Array(6).fill("a + b"),
      ...Array(2).fill("c"),
    ]);
  });
});

describe("a formula that is no TeX", () => {
  it.each([
    ["a + \\fracc{1}{2}", "\\fracc{1}{2}"],
    ["x^{2} + }y", "}y"],
    ["\\sqrt{2", ""],
  ])("%s is understood up to its fault", (tex, rest) => {
    const drawn = drawFormula(tex);
    expect("from" in drawn && tex.slice(drawn.from)).toBe(rest);
  });
  it("is drawn where it is one", () => {
    expect(drawFormula("\\frac{1}{2}")).toHaveProperty("html");
  });
});
