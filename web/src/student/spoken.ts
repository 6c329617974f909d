import { t } from "@lingui/core/macro";
import { plain } from "../ui/rich";
import { TEX } from "../ui/tex";
import type { Item } from "./kinds/types";

type Stimulus = { title: string; body: string };
/** Says a formula. */
type InWords = (tex: string) => string;

/** Everything that a question says, in the order in which it is read: what it is about, the question, what can be picked. */
export function spoken(item: Item, stimulus: Stimulus | null, inWords: InWords): string[] {
  const read = (html: string) => speakable(html, inWords);
  const parts = stimulus ? [stimulus.title, read(stimulus.body)] : [];
  parts.push(read(item.stem));
  if (item.kind === "gaps") {
    const number = new Map(item.gaps.map((gap, at) => [gap.name, at + 1]));
    parts.push(read(item.text).replace(/\[([a-z])\]/g, (_, name: string) => t`gap ${number.get(name) ?? name}`));
    for (const [at, gap] of item.gaps.entries())
      if (gap.choices.length > 0)
        parts.push(t`For gap ${at + 1} there is: ${gap.choices.map((choice) => read(choice.text)).join(", ")}`);
  }
  if (item.kind === "true_false") parts.push(t`True, or false?`);
  if ("options" in item) parts.push(...item.options.map((option) => `${option.letter}: ${read(option.text)}`));
  if ("rows" in item) parts.push(...item.rows.map((row) => read(row.text)));
  if ("choices" in item) parts.push(...item.choices.map((choice) => `${choice.letter}: ${read(choice.text)}`));
  if ("entries" in item) parts.push(...item.entries.map((entry) => read(entry.text)));
  if (item.kind === "picture_point") parts.push(item.picture_words);
  return parts.filter((part) => part.trim() !== "");
}

/** The words of a text with a pause where one cell, row, line or paragraph ends, and its formulas in words. */
function speakable(html: string, inWords: InWords): string {
  // Within the cells: what stands between them is put before the table by whoever reads HTML.
  const paused = html
    .replace(/<\/(td|th)>(?=\s*<\/tr>)/g, ". $&")
    .replace(/(?<!\. )<\/(td|th)>/g, ", $&")
    .replace(/<\/(p|li|h3|caption)>|<br\s*\/?>/g, ". $&");
  return (
    plain(paused)
      .replace(TEX, (_, tex: string) => ` ${inWords(tex)} `)
      // Where a cell ends with its row there is one pause, the longer one.
      .replace(/(\s*[,.;:?!]){2,}/g, (run) => /[?!]/.exec(run)?.[0] ?? (run.includes(".") ? "." : run.trim().charAt(0)))
      .replace(/\s+([,.;:?!])/g, "$1")
      .replace(/\s+/g, " ")
      .trim()
  );
}
