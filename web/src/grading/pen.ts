import { FINE, linesOf, type OnPicture, type Place, type Stroke, WIDTH } from "../ui/ink";

export type Tool = "frame" | "pen" | "broad" | "tick" | "cross" | "question" | "underline" | "words" | "stamp" | "move";
export type Point = { x: number; y: number };
export type Pressed = Point & { pressure: number };

const NEAREST = 24;
const APART = 1.5;

/** The points of a stroke, without those that stand on one another; places are shares, as those of every sign. */
export function strokeOf(points: Pressed[], wide: boolean, height: number, on: { file: number; page: number }): Stroke {
  const kept: Pressed[] = [];
  for (const point of points) {
    const last = kept.at(-1);
    const far = last && Math.hypot((point.x - last.x) * WIDTH, (point.y - last.y) * height);
    if (far === undefined || far >= APART) kept.push(point);
  }
  const fine = (share: number) => Math.round(Math.min(1, Math.max(0, share)) * FINE);
  const some = thinned(kept, 2000);
  return {
    kind: "stroke",
    ...on,
    wide,
    points: some.flatMap(({ x, y, pressure }) => [fine(x), fine(y), fine(pressure)]),
  };
}

/** Every second point of a stroke that is longer than is kept, until it is not. */
function thinned(points: Pressed[], most: number): Pressed[] {
  return points.length <= most
    ? points
    : thinned(
        points.filter((_, at) => at % 2 === 0 || at === points.length - 1),
        most,
      );
}

/** The same a little further; nothing leaves the picture. */
export function movedBy<T extends OnPicture>(place: T, by: Point): T {
  const xs = place.kind === "stroke" ? every(place.points, 0) : "to_x" in place ? [place.x, place.to_x] : [place.x];
  const ys = place.kind === "stroke" ? every(place.points, 1) : "to_y" in place ? [place.y, place.to_y] : [place.y];
  const [wide, high] = place.kind === "area" ? [place.w, place.h] : [0, 0];
  const x = Math.min(1 - wide - Math.max(...xs), Math.max(-Math.min(...xs), by.x));
  const y = Math.min(1 - high - Math.max(...ys), Math.max(-Math.min(...ys), by.y));
  if (place.kind === "stroke") {
    const points = place.points.map((value, at) =>
      at % 3 === 2 ? value : Math.min(FINE, Math.max(0, value + Math.round((at % 3 === 0 ? x : y) * FINE))),
    );
    return { ...place, points };
  }
  const share = (value: number) => Math.min(1, Math.max(0, value));
  const to = "to_x" in place ? { to_x: share(place.to_x + x), to_y: share(place.to_y + y) } : {};
  return { ...place, x: share(place.x + x), y: share(place.y + y), ...to };
}

const every = (points: number[], part: number) =>
  points.filter((_, at) => at % 3 === part).map((value) => value / FINE);

/** Which of these a pointer means: the nearest line, or the words under it; nothing where all are far away. */
export function nearest<T extends { place: Place; text: string }>(marks: T[], at: Point, height: number): T | null {
  let best: T | null = null;
  let least = NEAREST;
  for (const mark of marks) {
    const far = distance(mark, at, height);
    if (far <= least) {
      best = mark;
      least = far;
    }
  }
  return best;
}

function distance({ place, text }: { place: Place; text: string }, at: Point, height: number): number {
  const x = at.x * WIDTH;
  const y = at.y * height;
  if (place.kind === "words") {
    const left = place.x * WIDTH;
    const top = place.y * height;
    // Letters are about half as wide as they are high.
    const right = Math.min(WIDTH, left + 15 * text.length);
    return Math.hypot(Math.max(left - x, 0, x - right), Math.max(top - y, 0, y - top - 31));
  }
  if (place.kind === "sign") return Math.max(0, Math.hypot(x - place.x * WIDTH, y - place.y * height) - 20);
  const far = linesOf(place, height).map(({ path }) => fromPath(path, x, y));
  return Math.min(...far, Number.POSITIVE_INFINITY);
}

/** From the corners and the straight parts of a path; its curves are short. */
function fromPath(path: string, x: number, y: number): number {
  const numbers = path.match(/-?[\d.]+/g)?.map(Number) ?? [];
  const closed = path.endsWith("Z") ? numbers.slice(0, 2) : [];
  const all = [...numbers, ...closed];
  let least = Number.POSITIVE_INFINITY;
  for (let at = 0; at + 3 < all.length; at += 2) {
    const [ax = 0, ay = 0, bx = 0, by = 0] = all.slice(at, at + 4);
    const long = (bx - ax) ** 2 + (by - ay) ** 2;
    const along = long === 0 ? 0 : Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / long));
    least = Math.min(least, Math.hypot(x - ax - along * (bx - ax), y - ay - along * (by - ay)));
  }
  return least;
}
