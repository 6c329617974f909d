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
  const text = field ? (field.selectedOptions[0]?.textContent ?? "") : (cell.textContent ?? "");
  return text.replace(/\s+/g, " ").trim();
};

/** Every table of a part of the page, each under its caption. */
export function tableRows(part: Element | null): string[][] {
  return [...(part?.querySelectorAll("table") ?? [])].flatMap((table, at) => [
    ...(at > 0 ? [[]] : []),
    [table.caption?.textContent ?? ""],
    ...[...table.rows].map((row) => [...row.cells].map(words)),
  ]);
}
