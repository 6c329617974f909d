import { describe, expect, it, test } from "vitest";
import { beside, filled, offered, withComment, withLevel } from "./comment-lines";

const KNOWN = ["Say why it is the same.", "Name the path.", "Why equally?"];

test("a comment of a level is offered with that level, before the others, and with no other one", () => {
  const levels = [
    { text: "Sound", criterion: "a", points: 2 },
    { text: "Not shown", criterion: "a", points: 1 },
  ];
  const known = ["Well done", "Not shown", "Sound"];
  expect(beside(known, levels, { a: 2 })).toEqual(["Sound", "Well done"]);
  expect(beside(known, levels, { b: 2 })).toEqual(["Well done"]);
  expect(beside(known, [], {})).toEqual(known);
});

describe("comments that come back by a few letters", () => {
  it("offers what holds the letters of the line that is typed, and all where nothing is", () => {
    expect(offered("", KNOWN)).toEqual(KNOWN);
    expect(offered("WHY", KNOWN)).toEqual(["Say why it is the same.", "Why equally?"]);
    expect(offered("Well done.\nname", KNOWN)).toEqual(["Name the path."]);
    expect(offered("nothing like it", KNOWN)).toEqual([]);
  });

  it("offers nothing twice, and never more than a few", () => {
    expect(offered("Name the path.\n", KNOWN)).toEqual(["Say why it is the same.", "Why equally?"]);
    expect(
      offered(
        "",
        [...Array(40).keys()].map((at) => `comment ${at}`),
      ).length,
    ).toBe(6);
  });

  it("takes the place of what was begun and touches no line above", () => {
    expect(withComment("why", KNOWN, "Why equally?")).toBe("Why equally?");
    expect(withComment("Well done.\nwhy", KNOWN, "Why equally?")).toBe("Well done.\nWhy equally?");
    expect(withComment("Well done.\n", KNOWN, "Name the path.")).toBe("Well done.\nName the path.");
    expect(withComment("", KNOWN, "Name the path.")).toBe("Name the path.");
  });

  it("leaves a whole comment as it is and puts the next one below it", () => {
    const one = withComment("", KNOWN, "Name the path.");
    expect(offered(one, KNOWN)).toEqual(["Say why it is the same.", "Why equally?"]);
    expect(withComment(one, KNOWN, "Why equally?")).toBe("Name the path.\nWhy equally?");
  });
});

test("the places of a comment are filled, and closed where a name is hidden", () => {
  const facts = { name: "கவிதா", mark: "3 of 6", criterion: "The idea" };
  expect(filled("{name}, say why: {criterion} has {mark}.", facts)).toBe("கவிதா, say why: The idea has 3 of 6.");
  expect(filled("{name}, say why.", { ...facts, name: "" })).toBe("say why.");
});

test("the sentence of a level takes the place of another level’s, and leaves what was typed", () => {
  const idea = {
    name: "Idea",
    levels: [
      { points: 0, words: "missing" },
      { points: 2, words: "said" },
    ],
  };
  const first = withLevel("Well tried.", idea, 0);
  expect(first).toBe("Well tried.\nIdea: missing");
  expect(withLevel(first, idea, 2)).toBe("Well tried.\nIdea: said");
  expect(withLevel(first, idea, 1)).toBe("Well tried.");
  expect(withLevel("", idea, 2)).toBe("Idea: said");
});
