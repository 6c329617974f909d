import { describe, expect, it } from "vitest";
import { spreadLabels } from "./charts/labels";
import { amount, byName, durationOf, figure, listed, momentOf, namesIn, percent } from "./words";

describe("figures in words", () => {
  it("prints coefficients without a leading zero and marks with one", () => {
    expect([figure(0.291), figure(-0.08), figure(1.25), figure(-0.001), figure(null)]).toEqual([
      ".29",
      "−.08",
      "1.25",
      ".00",
      "–",
    ]);
    expect([amount(0.82), amount(-1.5), amount(undefined)]).toEqual(["0.8", "−1.5", "–"]);
    expect([percent(0.456), percent(-0.27), percent(-0.001), percent(null)]).toEqual(["46%", "−27%", "0%", "–"]);
    expect([listed(["3"]), listed(["3", "5"]), listed(["3", "5", "7"])]).toEqual(["3", "3 and 5", "3, 5 and 7"]);
  });
});

describe("times and names in words", () => {
  it("says how long in the unit one thinks in", () => {
    expect([0, 59, 65, 1199, 3599].map(durationOf)).toEqual(["0:00", "0:59", "1:05", "19:59", "59:59"]);
    expect([3600, 4800, 86_400, 47 * 3600 + 59].map(durationOf)).toEqual([
      "1 h 0 min",
      "1 h 20 min",
      "24 h 0 min",
      "47 h 0 min",
    ]);
    expect([48 * 3600, 200_000].map(durationOf)).toEqual(["2 days", "2 days"]);
    expect([59.6, null, undefined].map(durationOf)).toEqual(["1:00", "–", "–"]);
  });
  it("names a moment by its day and hour", () => {
    expect(momentOf(new Date(2026, 10, 3, 9, 5))).toBe("Tue 3 Nov, 09:05");
  });
  it("ends a sentence of names with one full stop", () => {
    expect([namesIn(["Ines A.", "Wren O."]), namesIn(["Ines"]), namesIn(["A.", "Bo"])]).toEqual([
      "Ines A., Wren O.",
      "Ines.",
      "A., Bo.",
    ]);
  });
});

describe("labels at the ends of lines", () => {
  it("never cover one another, stay within the chart and keep their order", () => {
    for (const wanted of [[10, 10, 10, 10], [100, 98, 99, 12], [150, 149, 148, 147, 146], [50]]) {
      const placed = spreadLabels(wanted, 15, 10, 150);
      const sorted = [...placed].sort((a, b) => a - b);
      sorted.slice(1).forEach((at, place) => {
        expect(at - (sorted[place] ?? 0)).toBeGreaterThanOrEqual(15);
      });
      for (const at of placed) expect(at).toBeGreaterThanOrEqual(10);
      for (const at of placed) expect(at).toBeLessThanOrEqual(150);
    }
  });
});

describe("names in order", () => {
  it("puts a letter with its accent beside the letter, as alphabets do", () => {
    expect(["Zúñiga", "Ávila", "Azul", "Émile", "Eric"].toSorted(byName)).toEqual([
      "Ávila",
      "Azul",
      "Émile",
      "Eric",
      "Zúñiga",
    ]);
  });
});
