import { expect, test } from "vitest";
import { csv } from "./rows";

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
