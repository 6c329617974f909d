import { describe, expect, it } from "vitest";
import { seeded } from "../seeded";
import {
  blankPage,
  blankSection,
  changedEntry,
  changedSection,
  itemsIn,
  type Layout,
  moved,
  placed,
  questionsIn,
  rowsOf,
  totalMarks,
  withEntry,
  without,
} from "./layout";

const start = (): Layout => ({
  sections: [{ ...blankSection(), ref: "first" }],
  plan: [],
  minutes: 0,
  forms: 1,
  correct_for_guessing: false,
});

/** Any act of the builder, at random; with what it should do to the list of questions. */
function act(layout: Layout, random: () => number, step: number): { next: Layout; questions: Set<string> } {
  const rows = rowsOf(layout);
  const at = Math.floor(random() * rows.length);
  const row = rows[at];
  const questions = new Set(itemsIn(layout));
  switch (Math.floor(random() * 7)) {
    case 0:
      return { next: withEntry(layout, placed(`q${step}`), at), questions: questions.add(`q${step}`) };
    case 1:
      return { next: withEntry(layout, blankPage(), at), questions };
    case 2:
      return { next: { ...layout, sections: [...layout.sections, blankSection()] }, questions };
    case 3:
      if (row?.row === "entry") questions.delete(row.id);
      return { next: row && at > 0 ? without(layout, row.id) : layout, questions };
    case 4:
      return { next: changedSection(layout, layout.sections[0]?.ref ?? "", { choose: 1 + (step % 3) }), questions };
    case 5:
      return row?.row === "entry" && row.entry.entry === "item"
        ? { next: changedEntry(layout, row.id, { ...row.entry, marks: 1 + (step % 5) }), questions }
        : { next: layout, questions };
    default:
      return { next: moved(layout, at, Math.floor(random() * (rows.length + 2)) - 1), questions };
  }
}

describe("the builder's layout under any order of acts", () => {
  for (let seed = 1; seed <= 60; seed++)
    it(`seed ${seed}: nothing is lost, nothing stands twice, there is always a section`, () => {
      const random = seeded(seed);
      let layout = start();
      for (let step = 0; step < 80; step++) {
        const before = JSON.stringify(layout);
        const { next, questions } = act(layout, random, step);
        expect(JSON.stringify(layout)).toBe(before); // a step back must find it as it was
        expect(new Set(itemsIn(next))).toEqual(questions);
        expect(itemsIn(next)).toHaveLength(questions.size);
        const ids = rowsOf(next).map((row) => row.id);
        expect(new Set(ids).size).toBe(ids.length);
        expect(rowsOf(next)[0]?.row).toBe("section");
        expect(next.sections[0]?.ref).toBe("first");
        layout = next;
      }
    });

  it("a row moved there and back is where it was", () => {
    const random = seeded(7);
    let layout = start();
    for (let step = 0; step < 12; step++) layout = withEntry(layout, placed(`q${step}`));
    layout = {
      ...layout,
      sections: [...layout.sections, { ...blankSection(), ref: "second", entries: [placed("z")] }],
    };
    for (let turn = 0; turn < 100; turn++) {
      const from = 1 + Math.floor(random() * (rowsOf(layout).length - 1));
      const to = 1 + Math.floor(random() * (rowsOf(layout).length - 1));
      expect(moved(moved(layout, from, to), to, from)).toEqual(layout);
    }
  });

  it("marks and questions are those of what stands there", () => {
    const random = seeded(11);
    for (let turn = 0; turn < 50; turn++) {
      const worth = Array.from({ length: 6 }, () => 1 + Math.floor(random() * 4));
      const choose = random() < 0.5 ? null : 1 + Math.floor(random() * 6);
      const entries = worth.map((marks, at) => ({ ...placed(`q${at}`), entry: "item" as const, ref: `q${at}`, marks }));
      const draws = [{ skill: "S", count: 2, low: 0, high: 1 }];
      const layout: Layout = {
        ...start(),
        sections: [{ ...blankSection(), entries: entries as never, choose, draws }],
      };
      const best = [...worth].sort((a, b) => b - a).slice(0, choose ?? worth.length);
      expect(totalMarks(layout, new Map())).toBe(best.reduce((sum, marks) => sum + marks, 0));
      expect(questionsIn(layout)).toBe(worth.length + 2);
    }
  });
});
