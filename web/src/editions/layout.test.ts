import { describe, expect, it } from "vitest";
import { blankSection, itemsIn, type Layout, moved, placed, rowsOf, totalMarks, withEntry, without } from "./layout";

const layout = (...sections: string[][]): Layout => ({
  sections: sections.map((refs, at) => ({ ...blankSection(), ref: String(at), entries: refs.map(placed) })),
  plan: [],
  minutes: 0,
  forms: 1,
  correct_for_guessing: false,
});
const shape = (of: Layout) => of.sections.map((section) => section.entries.map((e) => e.entry === "item" && e.ref));

describe("layout", () => {
  it("a question moved past a head is in the other section", () => {
    const before = layout(["a", "b"], ["c"]);
    expect(rowsOf(before).map((row) => row.id)).toEqual(["section 0", "a", "b", "section 1", "c"]);
    expect(shape(moved(before, 2, 3))).toEqual([["a"], ["b", "c"]]);
    expect(shape(moved(before, 4, 3))).toEqual([["a", "b", "c"], []]);
  });

  it("the first section stays first, and nothing comes before it", () => {
    const before = layout(["a"], ["b"]);
    expect(moved(before, 0, 2)).toBe(before);
    expect(shape(moved(before, 3, 0))).toEqual([["b", "a"], []]);
    expect(shape(moved(before, 2, 0))).toEqual([[], ["a", "b"]]);
  });

  it("taking a section out leaves its questions, taking a question out does not", () => {
    const before = layout(["a"], ["b"]);
    expect(shape(without(before, "section 1"))).toEqual([["a", "b"]]);
    expect(without(before, "section 0")).toEqual(before);
    expect(shape(without(before, "b"))).toEqual([["a"], []]);
  });

  it("nothing stands twice", () => {
    const before = layout(["a"], ["b"]);
    expect(withEntry(before, placed("b"))).toBe(before);
    expect(itemsIn(withEntry(before, placed("c"), 1))).toEqual(["c", "a", "b"]);
  });

  it("where students choose, the marks are of as many as they answer", () => {
    const before = layout(["a", "b", "c"]);
    const items = new Map(["a", "b", "c"].map((id) => [id, { marks: 2 } as never]));
    expect(totalMarks(before, items)).toBe(6);
    const choosing = { ...before, sections: before.sections.map((section) => ({ ...section, choose: 2 })) };
    expect(totalMarks(choosing, items)).toBe(4);
  });
});
