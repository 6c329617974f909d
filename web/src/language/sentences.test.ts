import { readdirSync, readFileSync } from "node:fs";
import { expect, test } from "vitest";

/** A sentence in plain quotes: it would be English for everybody. */
const SENTENCE = /(?<![\w`])"[A-Z][a-z’]+ [a-z][^"\n]{14,}"/g;
/** Parts of a message that is in the catalogues, and what no person reads. */
const NOT_SHOWN = /\b(one|other|few|many|zero|two): "|=\d+: "|throw new Error\(|^\s*\*|^\s*\/\//;

test("no sentence stands outside the catalogues", () => {
  const files = readdirSync("src", { recursive: true, encoding: "utf-8" })
    .filter((name) => /\.tsx?$/.test(name) && !/\.test\.ts|schema\.d\.ts|api\/changes\.ts/.test(name))
    .map((name) => ({ name, lines: readFileSync(`src/${name}`, "utf-8").split("\n") }));
  expect(files.length).toBeGreaterThan(300);
  const raw = files.flatMap(({ name, lines }) =>
    lines
      .filter((line) => !NOT_SHOWN.test(line))
      .flatMap((line) => (line.match(SENTENCE) ?? []).map((it) => `${name}: ${it}`)),
  );
  expect(raw).toEqual([]);
});
