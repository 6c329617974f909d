import { existsSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { defineConfig } from "@lingui/cli";
import { formatter } from "@lingui/format-po";

/** Every module a page can come to load, from its entry on. */
function reachable(...entries: string[]): string[] {
  const seen = new Set<string>();
  const todo = [...entries];
  for (let file = todo.pop(); file; file = todo.pop()) {
    if (seen.has(file)) continue;
    seen.add(file);
    for (const [, name] of readFileSync(file, "utf8").matchAll(/(?:from|import)\s*\(?\s*"(\.[^"]+)"/g)) {
      const base = join(dirname(file), name ?? "");
      const there = [base, `${base}.ts`, `${base}.tsx`, `${base}/index.ts`, `${base}/index.tsx`];
      const next = there.find((path) => /\.tsx?$/.test(path) && existsSync(path));
      if (next) todo.push(next);
    }
  }
  return [...seen];
}

/** Two catalogues of each language: a student's phone loads the words of its own pages only. */
export default defineConfig({
  sourceLocale: "en",
  locales: ["en", "es", "ar"],
  // What stands for a number in a message is said by its words; with the code itself beside it, every change of a file that
  // has one would be a change of the catalogue.
  format: formatter({ origins: false, lineNumbers: false, printPlaceholdersInComments: false }),
  orderBy: "message",
  catalogs: [
    { path: "src/language/student/{locale}", include: reachable("src/entries/student.ts", "src/entries/wall.ts") },
    { path: "src/language/teacher/{locale}", include: reachable("src/entries/teacher.ts") },
  ],
});
