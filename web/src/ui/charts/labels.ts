/**
 * Moves labels apart so that none covers another: each stays as near as it can to its line's end.
 * `wanted` in pixels from the top, in any order; the answer is in the same order.
 */
export function spreadLabels(wanted: number[], gap: number, top: number, bottom: number): number[] {
  const order = wanted.map((_, place) => place).sort((a, b) => (wanted[a] ?? 0) - (wanted[b] ?? 0));
  const placed = wanted.slice();
  let least = top;
  for (const place of order) {
    placed[place] = Math.max(wanted[place] ?? 0, least);
    least = (placed[place] ?? 0) + gap;
  }
  let most = bottom;
  for (const place of order.toReversed()) {
    placed[place] = Math.min(placed[place] ?? 0, most);
    most = (placed[place] ?? 0) - gap;
  }
  return placed;
}

/** Of a letter of 12 pixels, generously. */
const LETTER = 7;

/** Words to the right of a line, or to its left where the frame ends. */
export function beside(at: number, words: string, width: number): { x: number; textAnchor: "start" | "end" } {
  const fits = at + 5 + words.length * LETTER <= width;
  return fits ? { x: at + 5, textAnchor: "start" } : { x: at - 5, textAnchor: "end" };
}

/** Words under or over a place, pushed in where the frame would cut them off. */
export function centred(at: number, words: string, width: number): { x: number; textAnchor: "middle" } {
  const half = (words.length * LETTER) / 2;
  return { x: Math.max(half, Math.min(width - half, at)), textAnchor: "middle" };
}
