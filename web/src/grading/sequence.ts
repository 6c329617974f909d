import type { Schemas } from "../api/client";

export type Entry = Schemas["MarkingEntry"] & {
  /** In this browser, and not known to be on the server yet. */
  unsent?: boolean;
};
export type Order = Schemas["MarkingPage"]["order"];
export type At = { item: string; number: number };

/** Answers of one question in the order in which they are read; where nothing was given, there is nothing to read. */
export function inOrder(entries: Entry[], order: Order, seed: number, like: number[] = []): Entry[] {
  const read = entries.filter((entry) => entry.state !== "nothing");
  const by: Record<Order, (entry: Entry) => number> = {
    number: (entry) => entry.number,
    chance: (entry) => scrambled(entry.number, seed),
    short: (entry) => entry.words,
    // Until it is known which are alike, and for those that came since: by number, after the others.
    like: (entry) => (like.includes(entry.number) ? like.indexOf(entry.number) : like.length),
    unmarked: (entry) => (entry.state === "kept" ? 1 : 0),
  };
  return [...read].sort((a, b) => by[order](a) - by[order](b) || a.number - b.number);
}

/** Entries with what waits in the outbox over them: what was given counts as given, sent or not. */
export function withUnsent(
  entries: Record<string, Entry[]>,
  items: Schemas["MarkingPage"]["items"],
  unsent: (At & { mark: Schemas["MarkBody"] })[],
): Record<string, Entry[]> {
  if (unsent.length === 0) return entries;
  const found = { ...entries };
  for (const { item: ref, number, mark } of unsent) {
    const item = items.find((item) => item.ref === ref);
    const full = item?.rubric.criteria.reduce((sum, criterion) => sum + criterion.max, 0) ?? 0;
    const given = Object.values(mark.points).reduce((sum, value) => sum + value, 0);
    found[ref] = (found[ref] ?? []).map((entry): Entry => {
      if (entry.number !== number) return entry;
      if (mark.draft) return entry.state === "kept" ? entry : { ...entry, state: "draft", unsent: true };
      const marks = full && item ? (given / full) * item.marks : 0;
      return { ...entry, state: "kept", marks, again: false, unsent: true };
    });
  }
  return found;
}

/** Comments on a question that are offered again, those that are not sent yet before the others. */
export function withUnsentComments(known: string[], unsent: { mark: Schemas["MarkBody"] }[]): string[] {
  const lines = unsent.flatMap(({ mark }) => (mark.draft ? [] : (mark.comment ?? "").split("\n")));
  return [...new Set([...lines.map((line) => line.trim()).filter(Boolean), ...known])];
}

/** The same for the same sitting, so that leaving and coming back changes nothing. */
function scrambled(number: number, seed: number): number {
  let mixed = Math.imul(number + 0x9e37, 0x85ebca6b) ^ Math.imul(seed + 1, 0xc2b2ae35);
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0x2c1b3c6d);
  return (mixed ^ (mixed >>> 13)) >>> 0;
}

/** Every answer in the order in which one goes through them: question by question, or student by student. */
export function sequence(
  entries: Record<string, Entry[]>,
  items: string[],
  byStudent: boolean,
  order: Order,
  seed: number,
  like: Record<string, number[]> = {},
): At[] {
  const ordered = items.map((item) =>
    inOrder(entries[item] ?? [], order, seed, like[item]).map(({ number }) => ({ item, number })),
  );
  if (!byStudent) return ordered.flat();
  const students = [...new Set(ordered.flat().map((at) => at.number))];
  const first = ordered[0]?.map((at) => at.number) ?? [];
  const rank = (number: number) => (first.includes(number) ? first.indexOf(number) : first.length + number);
  return students
    .sort((a, b) => rank(a) - rank(b))
    .flatMap((number) => ordered.flat().filter((at) => at.number === number));
}

/** The next one that waits after this one, going round once; null where nothing waits any more. */
export function nextWaiting(all: At[], entries: Record<string, Entry[]>, now: At): At | null {
  const here = all.findIndex((at) => at.item === now.item && at.number === now.number);
  const round = [...all.slice(here + 1), ...all.slice(0, Math.max(here, 0))];
  const entry = (at: At) => entries[at.item]?.find((one) => one.number === at.number);
  // What waits comes before what is to be looked at again.
  return round.find((at) => entry(at)?.state !== "kept") ?? round.find((at) => entry(at)?.again) ?? null;
}
