import { expect, test } from "vitest";
import { crowdless } from "./map-labels";

test("a label stands right of its point, and elsewhere where another point stands there", () => {
  const alone = crowdless([{ x: 100, y: 100, text: "7" }]);
  expect(alone).toEqual([{ x: 109, y: 104 }]);
  const [first] = crowdless([
    { x: 100, y: 100, text: "7" },
    { x: 112, y: 100, text: "8" },
  ]);
  expect(first?.x).toBeLessThan(100);
});

test("of many points no two labels cover each other while there is room", () => {
  const spots = Array.from({ length: 12 }, (_, n) => ({
    x: 60 + 40 * (n % 4),
    y: 60 + 40 * Math.floor(n / 4),
    text: `${n}`,
  }));
  const placed = crowdless(spots);
  for (const [a, one] of placed.entries())
    for (const [b, other] of placed.entries())
      if (a < b) expect(Math.abs(one.x - other.x) > 7 || Math.abs(one.y - other.y) > 10).toBe(true);
});
