import type { Schemas } from "../api/client";

export type Layout = Schemas["Layout"];
export type Section = Schemas["DraftSection"];
export type Entry = Section["entries"][number];
export type Item = Schemas["ItemLine"];

/** One row of the builder: the head of a section, or what stands in it. */
export type Row = { row: "section"; id: string; section: Section } | { row: "entry"; id: string; entry: Entry };

const newRef = () => crypto.getRandomValues(new Uint32Array(1))[0]?.toString(16).padStart(8, "0") ?? "0";
const refOf = (entry: Entry) => (entry.entry === "item" ? entry.ref : entry.page.ref);
export const placed = (ref: string): Entry => ({ entry: "item", ref, marks: null, new_page: false });
export const blankPage = (): Entry => ({ entry: "page", page: { ref: newRef(), title: "", body: "" } });
export const blankSection = (): Section => ({
  ref: newRef(),
  title: "",
  instructions: "",
  entries: [],
  choose: null,
  new_page: false,
  draws: [],
});

/** The layout as one list of rows, so that moving a row past a head moves it to another section. */
export const rowsOf = (layout: Layout): Row[] =>
  layout.sections.flatMap((section): Row[] => [
    { row: "section", id: `section ${section.ref}`, section },
    ...section.entries.map((entry): Row => ({ row: "entry", id: refOf(entry), entry })),
  ]);

/** The sections that a list of rows makes. What stands before the first head belongs to it. */
function sectionsOf(rows: Row[]): Section[] {
  const head = rows.find((row) => row.row === "section");
  const ordered = head ? [head, ...rows.filter((row) => row !== head)] : rows;
  const sections: Section[] = [];
  for (const row of ordered) {
    if (row.row === "section") sections.push({ ...row.section, entries: [] });
    else sections.at(-1)?.entries.push(row.entry);
  }
  return sections;
}

export function moved(layout: Layout, from: number, to: number): Layout {
  const rows = rowsOf(layout);
  const row = rows[from];
  // The first head stays where it is: there is always a section to stand in.
  if (!row || from === 0) return layout;
  return { ...layout, sections: sectionsOf(rows.toSpliced(from, 1).toSpliced(Math.max(1, to), 0, row)) };
}

export const withEntry = (layout: Layout, entry: Entry, at?: number): Layout => {
  const rows = rowsOf(layout);
  if (rows.some((row) => row.id === refOf(entry))) return layout;
  const fresh: Row = { row: "entry", id: refOf(entry), entry };
  return { ...layout, sections: sectionsOf(rows.toSpliced(Math.max(1, at ?? rows.length), 0, fresh)) };
};

export const without = (layout: Layout, id: string): Layout => ({
  ...layout,
  sections: sectionsOf(rowsOf(layout).filter((row, at) => at === 0 || row.id !== id)),
});

export const changedSection = (layout: Layout, ref: string, part: Partial<Section>): Layout => ({
  ...layout,
  sections: layout.sections.map((section) => (section.ref === ref ? { ...section, ...part } : section)),
});

export const changedEntry = (layout: Layout, ref: string, entry: Entry): Layout => ({
  ...layout,
  sections: layout.sections.map((section) => ({
    ...section,
    entries: section.entries.map((old) => (refOf(old) === ref ? entry : old)),
  })),
});

/** How many questions a student will meet: those that stand there and those that will be drawn. */
export const questionsIn = (layout: Layout): number =>
  itemsIn(layout).length +
  layout.sections.reduce((sum, section) => sum + section.draws.reduce((drawn, rule) => drawn + rule.count, 0), 0);

export const itemsIn = (layout: Layout): string[] =>
  layout.sections.flatMap((section) => section.entries.filter((entry) => entry.entry === "item").map(refOf));

/** Marks of the whole test, as far as the layout says: where students choose, of as many as they answer. */
export function totalMarks(layout: Layout, items: Map<string, Item>): number {
  return layout.sections.reduce((sum, section) => {
    const each = section.entries.flatMap((entry) =>
      entry.entry === "item" ? [entry.marks ?? items.get(entry.ref)?.marks ?? 1] : [],
    );
    const counted = section.choose ? each.sort((a, b) => b - a).slice(0, section.choose) : each;
    return sum + counted.reduce((a, b) => a + b, 0);
  }, 0);
}
