const MOST = 6;

/** What is being typed on the last line; nothing where that is a whole comment, which begins no other one. */
export function begun(text: string, known: string[]): string {
  const line = (text.split("\n").at(-1) ?? "").trim();
  return known.includes(line) ? "" : line;
}

/** What was said before on this question and holds the letters that are typed; none that stands in the text already. */
export function offered(text: string, known: string[]): string[] {
  const typed = begun(text, known).toLowerCase();
  const said = new Set(text.split("\n").map((line) => line.trim()));
  return known.filter((one) => !said.has(one) && one.toLowerCase().includes(typed)).slice(0, MOST);
}

/** The text with a comment in place of what was begun, or on a line of its own. */
export function withComment(text: string, known: string[], comment: string): string {
  const lines = text.split("\n");
  const before = begun(text, known) || lines.at(-1) === "" ? lines.slice(0, -1) : lines;
  return [...before, comment].join("\n");
}
