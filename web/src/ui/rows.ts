import { t } from "@lingui/core/macro";

const FORMULA = /^[=+\-@\t\r]/;

/** A table as comma separated values for a spreadsheet; what begins like a formula is text there, a number is a number. */
export function csv(rows: string[][]): string {
  const cell = (text: string) => {
    const value = /^[−+]?\d*[.,]?\d+%?$/.test(text) ? text.replace("−", "-").replace(/^(-?)\./, "$10.") : text;
    const safe = FORMULA.test(value) && !/^-?[\d.]+%?$/.test(value) ? `'${value}` : value;
    return /[",\n\r]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
  };
  // The mark at the beginning tells a spreadsheet that the letters are UTF-8.
  return `\ufeff${rows.map((row) => row.map(cell).join(",")).join("\r\n")}\r\n`;
}

const words = (cell: Element) => {
  const field = cell.querySelector("select");
  return (field ? (field.selectedOptions[0]?.textContent ?? "") : said(cell)).replace(/\s+/g, " ").trim();
};

/** The text of a cell as one reads it: what stands on a line of its own is set off from what is before it. */
function said(part: Node): string {
  if (!(part instanceof Element)) return part.textContent ?? "";
  let text = "";
  for (const child of part.childNodes) {
    const more = said(child);
    const apart = child instanceof Element && /(^|\s)(block|sr-only)(\s|$)/.test(child.className);
    text += apart && text.trim() && more.trim() ? `${child.classList.contains("block") ? "," : ""} ${more}` : more;
  }
  return text;
}

/** who: of each row the student it is about, as `seat/12` or `class/3/student/40`; empty for a row about none. */
export type ShownTable = { caption: string; heads: string[]; rows: string[][]; who?: string[] };

/** Every table of a part of the page, each with its caption and its first row as heads. */
export function tablesOf(part: Element | null): ShownTable[] {
  return [...(part?.querySelectorAll("table") ?? [])].map((table) => {
    const lines = [...table.rows].map((row) => [...row.cells].map(words));
    // A column of buttons and boxes says nothing on paper.
    const kept = (lines[0] ?? []).map((_, at) => lines.length < 2 || lines.slice(1).some((line) => line[at]));
    const [heads = [], ...rows] = lines.map((line) => line.filter((_, at) => kept[at] ?? true));
    const who = [...table.rows].slice(1).map((row) => row.dataset.who ?? "");
    return { caption: table.caption?.textContent ?? "", heads, rows, who };
  });
}

/** Tables as lines, one below the other. */
export const linesOf = (tables: ShownTable[]): string[][] =>
  tables.flatMap((table, at) => [...(at > 0 ? [[]] : []), [table.caption], table.heads, ...table.rows]);

type Identity = { family_name: string; given_name: string; number: string; desk: number };

/** The table with family name, given name, number and desk in front, where its rows are about students. */
export function withIdentities(table: ShownTable, known: Record<string, Identity>): ShownTable {
  if (!table.who?.some((line) => known[line])) return table;
  const desk = !table.heads.includes(t`Desk`);
  const rows = table.rows.map((row, at) => {
    const one = known[table.who?.[at] ?? ""];
    const own = one ? [one.family_name, one.given_name, one.number] : ["", "", ""];
    return [...own, ...(desk ? [one ? String(one.desk) : ""] : []), ...row];
  });
  return {
    ...table,
    heads: [t`Family name`, t`Given name`, t`Number`, ...(desk ? [t`Desk`] : []), ...table.heads],
    rows,
  };
}
