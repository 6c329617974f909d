export type Spot = { x: number; y: number; text: string };

const HIGH = 13;
const WIDE = 7.5;
/** Right, left, above, below of the point, in the order in which they are tried. */
const TRIES = [
  [9, 4],
  [-9, 4],
  [0, -9],
  [0, 18],
  [9, -8],
  [9, 16],
  [-9, -8],
  [-9, 16],
] as const;

/** Where the label of each point stands: beside it, where it covers neither a point nor a label that stands already. */
export function crowdless(spots: Spot[]): { x: number; y: number }[] {
  const taken: { x0: number; x1: number; y0: number; y1: number }[] = spots.map(({ x, y }) => ({
    x0: x - 6,
    x1: x + 6,
    y0: y - 6,
    y1: y + 6,
  }));
  return spots.map(({ x, y, text }) => {
    const width = text.length * WIDE;
    const boxes = TRIES.map(([dx, dy]) => {
      const left = dx > 0 ? x + dx : dx < 0 ? x + dx - width : x - width / 2;
      return { x0: left, x1: left + width, y0: y + dy - HIGH + 3, y1: y + dy + 3, place: { x: left, y: y + dy } };
    });
    const overlap = (box: (typeof boxes)[number]) =>
      taken.filter((one) => box.x0 < one.x1 && box.x1 > one.x0 && box.y0 < one.y1 && box.y1 > one.y0).length;
    const best = boxes.reduce((a, b) => (overlap(b) < overlap(a) ? b : a));
    taken.push(best);
    return best.place;
  });
}
