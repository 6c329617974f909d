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

/**
 * The comments to offer beside these marks: those that go with a level that was given first, then those that go with
 * any; one that goes with another level is not offered.
 */
export function beside(
  known: string[],
  levels: { text: string; criterion: string; points: number }[],
  points: Record<string, number>,
): string[] {
  const fits = (text: string) => {
    const level = levels.find((one) => one.text === text);
    return level === undefined ? "any" : points[level.criterion] === level.points ? "given" : "other";
  };
  return [...known.filter((one) => fits(one) === "given"), ...known.filter((one) => fits(one) === "any")];
}

type Facts = { name: string; mark: string; criterion: string };

/** A comment with its places filled: {name}, {mark}, {criterion}. Where the name is hidden, its place is closed. */
export function filled(comment: string, facts: Facts): string {
  const named = facts.name
    ? comment.replaceAll("{name}", facts.name)
    : comment.replaceAll(/\{name\}[,:]?\s*/g, "").trim();
  return named.replaceAll("{mark}", facts.mark).replaceAll("{criterion}", facts.criterion);
}

type Criterion = { name: string; levels: { points: number; words: string }[] };

/** The text with the sentence of the level that was given, in place of that of another level of the criterion. */
export function withLevel(text: string, criterion: Criterion, points: number): string {
  const sentence = (words: string) => `${criterion.name}: ${words}`;
  const level = criterion.levels.find((one) => one.points === points);
  const others = new Set(criterion.levels.map((one) => sentence(one.words)));
  const lines = text.split("\n").filter((line) => !others.has(line.trim()));
  return [
    ...lines.filter((line, at) => line || at < lines.length - 1),
    ...(level?.words ? [sentence(level.words)] : []),
  ].join("\n");
}

/** The text with a comment in place of what was begun, or on a line of its own. */
export function withComment(text: string, known: string[], comment: string): string {
  const lines = text.split("\n");
  const before = begun(text, known) || lines.at(-1) === "" ? lines.slice(0, -1) : lines;
  return [...before, comment].join("\n");
}
