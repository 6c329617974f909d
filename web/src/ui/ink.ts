import type { Schemas } from "../api/client";

export type Place = Schemas["RemarkLine"]["place"];
export type OnPicture = Exclude<Place, { kind: "stretch" }>;
export type Stroke = Extract<Place, { kind: "stroke" }>;
export type Line = { path: string; width: number; broad: boolean };
type Point = { x: number; y: number };

/** In how many parts the width and the height of a picture are divided for a stroke. */
export const FINE = 10_000;
/** The width of every picture: lengths are thousandths of it, as in `core/ink.py`, which draws the same on paper. */
export const WIDTH = 1000;
const PEN = 3.5;
const BROAD = 24;
const SIGN = 34;
const STEPS = 4;
const SIGNS: Record<string, string> = {
  tick: "M -.5 .05 L -.15 .45 L .6 -.6",
  cross: "M -.42 -.42 L .42 .42 M .42 -.42 L -.42 .42",
  question: "M -.3 -.35 Q -.25 -.65 .05 -.65 Q .38 -.62 .36 -.3 Q .34 -.08 .02 .08 L .02 .25 M .02 .5 L .02 .55",
};

/** The lines a pen draws of something, on a picture of this height where its width is 1000. */
export function linesOf(place: Place, height: number): Line[] {
  const at = (x: number, y: number) => point({ x: x * WIDTH, y: y * height });
  switch (place.kind) {
    case "stroke":
      return strokeLines(place, height);
    case "area": {
      const { x, y, w, h } = place;
      const corners = [at(x, y), at(x + w, y), at(x + w, y + h), at(x, y + h)];
      return [{ path: `M ${corners.join(" L ")} Z`, width: PEN, broad: false }];
    }
    case "sign":
      return [
        {
          path: moved(SIGNS[place.sign] ?? "", place.x * WIDTH, place.y * height),
          width: PEN * 1.4,
          broad: false,
        },
      ];
    case "underline":
      return [{ path: `M ${at(place.x, place.y)} L ${at(place.to_x, place.to_y)}`, width: PEN, broad: false }];
    default:
      return [];
  }
}

/** Of one width as long as the pressure is about the same; the next begins where one ends. */
function strokeLines({ points: numbers, wide }: Stroke, height: number): Line[] {
  const points: (Point & { step: number })[] = [];
  for (let at = 0; at + 2 < numbers.length; at += 3) {
    const [x = 0, y = 0, pressure = 0] = numbers.slice(at, at + 3).map((number) => number / FINE);
    points.push({ x: x * WIDTH, y: y * height, step: wide ? STEPS : evenRound(pressure * STEPS) });
  }
  const lines: Line[] = [];
  let begin = 0;
  for (let at = 1; at <= points.length; at++) {
    const first = points[begin];
    if (!first || (at < points.length && points[at]?.step === first.step)) continue;
    const width = wide ? BROAD : PEN * (0.5 + first.step / STEPS);
    lines.push({ path: smooth(points.slice(begin, at + 1)), width, broad: Boolean(wide) });
    begin = at;
  }
  return lines;
}

/** Halves go to the even number, as they do in Python. */
const evenRound = (value: number) => (value % 1 === 0.5 ? 2 * Math.round(value / 2) : Math.round(value));

/** Through the middles between its points, so that no corner shows where the hand made none. */
function smooth(points: Point[]): string {
  const [first, ...more] = points;
  if (!first) return "";
  if (more.length === 0) return `M ${point(first)} L ${point({ x: first.x + 0.1, y: first.y })}`;
  const middle = (a: Point, b: Point) => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
  const parts = [`M ${point(first)}`, `L ${point(middle(first, more[0] as Point))}`];
  for (let at = 0; at + 1 < more.length; at++) {
    const here = more[at] as Point;
    parts.push(`Q ${point(here)} ${point(middle(here, more[at + 1] as Point))}`);
  }
  return [...parts, `L ${point(more.at(-1) as Point)}`].join(" ");
}

/** A sign at its place: of two numbers the first is across, the second down. */
function moved(path: string, x: number, y: number): string {
  let across = true;
  return path
    .split(" ")
    .map((word) => {
      if (/[A-Z]/.test(word)) return word;
      const length = Number(word) * SIGN + (across ? x : y);
      across = !across;
      return length.toFixed(1);
    })
    .join(" ");
}

const point = ({ x, y }: Point) => `${x.toFixed(1)} ${y.toFixed(1)}`;
