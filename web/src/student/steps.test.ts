import { describe, expect, it } from "vitest";
import { type Paper, stepsOf } from "./steps";

const question = (number: number, section: number, stimulus: string | null = null) => ({
  ref: `q${number}`,
  number,
  section,
  stimulus,
  item: { kind: "true_false" as const, stem: `Question ${number}`, marks: 1 },
});
const section = (title: string, first: number, last: number) => ({
  title,
  instructions: "",
  marks: last - first + 1,
  choose: null,
  first,
  last,
});
const page = (ref: string) => ({ ref, title: ref, body: "" });
const paper = (part: Partial<Paper>): Paper => ({
  title: "T",
  instructions: "",
  total_marks: 3,
  sections: [section("One", 1, 2), section("Two", 3, 3)],
  items: [question(1, 0), question(2, 0, "s"), question(3, 1, "s")],
  stimuli: [{ ref: "s", title: "A passage", body: "" }],
  pages: [],
  ...part,
});

describe("steps", () => {
  it("a section is named at its first question, a passage beside every one that shares it", () => {
    const seen = stepsOf(paper({})).map((step) =>
      "question" in step ? [step.question.ref, step.section?.title ?? null, step.stimulus?.title ?? null] : [],
    );
    expect(seen).toEqual([
      ["q1", "One", null],
      ["q2", null, "A passage"],
      ["q3", "Two", "A passage"],
    ]);
  });

  it("pages come before the question they stand before, and after the last", () => {
    const steps = stepsOf(
      paper({
        pages: [
          { before: 1, pages: [page("a"), page("b")] },
          { before: 3, pages: [page("c")] },
          { before: 4, pages: [page("end")] },
        ],
      }),
    );
    expect(steps.map((step) => ("page" in step ? step.page.ref : step.question.ref))).toEqual([
      "a",
      "b",
      "q1",
      "q2",
      "c",
      "q3",
      "end",
    ]);
  });

  it("a lesson of pages alone is turned through too", () => {
    const steps = stepsOf(
      paper({ items: [], sections: [section("One", 1, 0)], pages: [{ before: 1, pages: [page("a")] }] }),
    );
    expect(steps).toEqual([{ page: page("a") }]);
  });
});
