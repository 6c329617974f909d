import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { type Line, linesOf, type OnPicture, type Place } from "../ui/ink";
import { movedBy, nearest, strokeOf } from "./pen";

type Case = { place: Place; height: number; lines: Line[] };
const CASES = JSON.parse(readFileSync("../tests/core/ink.json", "utf8")) as Case[];
const on = { file: 1, page: 1 };

describe("ink", () => {
  it("draws what the server draws on paper", () => {
    // A half of the last place is rounded up here and to the even one there.
    const parts = (lines: Line[]) => lines.flatMap(({ path, width, broad }) => [...path.split(" "), width, broad]);
    for (const { place, height, lines } of CASES) {
      const drawn = parts(linesOf(place, height));
      const there = parts(lines);
      expect(drawn.length).toBe(there.length);
      for (const [at, part] of there.entries()) {
        if (Number.isNaN(Number(part))) expect(drawn[at]).toBe(part);
        else expect(Math.abs(Number(drawn[at]) - Number(part))).toBeLessThan(0.11);
      }
    }
  });

  it("keeps what is moved on the picture, and as large as it was", () => {
    for (const { place, height } of CASES) {
      if (place.kind === "stretch") continue;
      const moved = movedBy(place as OnPicture, { x: 7, y: -7 });
      const numbers = linesOf(moved, height).flatMap((line) => line.path.match(/-?[\d.]+/g)?.map(Number) ?? []);
      const most = place.kind === "sign" ? 40 : 0.2;
      for (const number of numbers) expect(number).toBeLessThanOrEqual(Math.max(1000, height) + most);
      if (place.kind === "area" && moved.kind === "area") expect([moved.w, moved.h]).toEqual([place.w, place.h]);
    }
  });

  it("finds the line a pointer is on, and nothing far away", () => {
    const line = {
      place: strokeOf(
        [0.1, 0.3, 0.5].map((x) => ({ x, y: 0.5, pressure: 0.5 })),
        false,
        800,
        on,
      ),
      text: "",
    };
    const tick = { place: { kind: "sign", ...on, sign: "tick", x: 0.9, y: 0.9 } as Place, text: "" };
    expect(nearest([line, tick], { x: 0.4, y: 0.505 }, 800)).toBe(line);
    expect(nearest([line, tick], { x: 0.91, y: 0.89 }, 800)).toBe(tick);
    expect(nearest([line, tick], { x: 0.5, y: 0.9 }, 800)).toBeNull();
  });
});
