const SEEN = 40;

/** Which rows of a long table are drawn: those in sight and some more on either side. */
export function windowOf(scroll: number, rows: number, height: number, more: number): { first: number; last: number } {
  const first = Math.max(0, Math.min(Math.floor(scroll / height) - more, rows - SEEN));
  return { first, last: Math.min(rows, first + SEEN + 2 * more) };
}
