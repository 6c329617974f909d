import { expect, test } from "vitest";
import { csv, linesOf } from "./rows";

test("numbers of a page are numbers of a spreadsheet, and text that begins like a formula stays text", () => {
  const rows = [
    ["Question", "r", "Earned"],
    ["=1+1", "−.08", "61%"],
    ['say "so", twice', ".29", "–"],
    ["@home", "+.012", "-"],
  ];
  expect(csv(rows)).toBe(
    '\ufeffQuestion,r,Earned\r\n\'=1+1,-0.08,61%\r\n"say ""so"", twice",0.29,–\r\n\'@home,\'+.012,\'-\r\n',
  );
});

test("tables of a page stand below one another, each under its name", () => {
  const tables = [
    { caption: "First", heads: ["A", "B"], rows: [["1", "2"]] },
    { caption: "Second", heads: ["C"], rows: [["3"], ["4"]] },
  ];
  expect(linesOf(tables)).toEqual([["First"], ["A", "B"], ["1", "2"], [], ["Second"], ["C"], ["3"], ["4"]]);
  expect(linesOf([])).toEqual([]);
});
