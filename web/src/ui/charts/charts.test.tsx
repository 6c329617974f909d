import type { ReactElement } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { seeded } from "../../seeded";
import { DifferencesChart } from "./differences-chart";
import { DistributionChart } from "./distribution-chart";
import { GainsChart } from "./gains-chart";
import { GrowthChart } from "./growth-chart";
import { LineUpChart } from "./line-up-chart";
import { MeansChart } from "./means-chart";
import { PartChart } from "./part-chart";
import { TimesChart } from "./times-chart";
import { TotalsChart } from "./totals-chart";
import { TraceChart } from "./trace-chart";
import { ValueChart } from "./value-chart";

/** A letter of our text face is about half as wide as it is high; no chart may lean on less. */
const LETTER = 0.53;
const NAMES = ["Ada A.", "Wilhelmina-Konstanze von und zu Hohenfels-Rautenberg", "Ωλ", "B"];

type Text = { x: number; y: number; anchor: string; size: number; says: string };

/** What is drawn: its frame, every number in its attributes, and every text with its place. */
function drawn(chart: ReactElement) {
  const markup = renderToStaticMarkup(chart);
  const svg = /<svg[\s\S]*<\/svg>/.exec(markup)?.[0] ?? "";
  const [, , width = 0, height = 0] = (/viewBox="([^"]*)"/.exec(svg)?.[1] ?? "").split(" ").map(Number);
  const numbers = [...svg.matchAll(/ (?:x|y|cx|cy|r|x1|x2|y1|y2|width|height|points|d)="([^"]*)"/g)].map(
    (one) => one[1],
  );
  const texts = [...svg.matchAll(/<text([^>]*)>([^<]*)<\/text>/g)].map(([, attributes = "", says = ""]): Text => {
    const of = (name: string) => new RegExp(` ${name}="([^"]*)"`).exec(attributes)?.[1];
    return {
      x: Number(of("x")),
      y: Number(of("y")),
      anchor: of("text-anchor") ?? "start",
      size: /text-\[10px]/.test(of("class") ?? "") ? 10 : 12,
      says: says.replaceAll("&amp;", "&").replaceAll("&lt;", "<"),
    };
  });
  return { svg, width, height, numbers, texts };
}

/** Which texts reach beyond the frame, by an estimate of how wide they are. */
function beyond({ width, height, texts }: ReturnType<typeof drawn>): string[] {
  return texts
    .filter(({ x, y, anchor, size, says }) => {
      const wide = says.length * size * LETTER;
      const left = anchor === "end" ? x - wide : anchor === "middle" ? x - wide / 2 : x;
      return left < -2 || left + wide > width + 2 || y < size * 0.6 || y > height + 1;
    })
    .map(({ says, x }) => `${says} at ${x}`);
}

type Chance = () => number;
const some = <T,>(chance: Chance, most: number, make: (at: number) => T): T[] =>
  Array.from({ length: Math.floor(chance() * (most + 1)) }, (_, at) => make(at));
const maybe = (chance: Chance, value: number) => (chance() < 0.15 ? null : value);
/** Shares as they come: often nothing, all, or the same for everybody. */
const share = (chance: Chance) => (chance() < 0.2 ? 0 : chance() < 0.25 ? 1 : chance());
const name = (chance: Chance) => NAMES[Math.floor(chance() * NAMES.length)] ?? "";
const interval = (chance: Chance) => {
  const [a, b] = [share(chance), share(chance)].sort((one, other) => one - other) as [number, number];
  return chance() < 0.2 ? { low: null, high: null } : { low: a, high: b };
};

const CHARTS: Record<string, (chance: Chance) => ReactElement> = {
  differences: (c) => (
    <DifferencesChart
      first={name(c)}
      second={name(c)}
      rows={some(c, 30, (at) => ({ label: `${at + 1}`, difference: maybe(c, share(c) - share(c)), ...interval(c) }))}
    />
  ),
  distribution: (c) => {
    const max = 1 + Math.floor(c() * 120);
    const counts = some(c, 20, () => ({ score: Math.floor(share(c) * max), students: 1 + Math.floor(c() * 30) }));
    return <DistributionChart max={max} counts={counts} mean={maybe(c, share(c) * max)} />;
  },
  gains: (c) => (
    <GainsChart
      before="Circuits, first look"
      after="Unit check"
      rows={some(c, 40, (id) => ({ id, name: name(c), before: maybe(c, share(c)), after: maybe(c, share(c)) }))}
    />
  ),
  growth: (c) => (
    <GrowthChart
      name={name(c)}
      points={[
        { held_on: "2026-09-01", title: "First", share: share(c), of_class: maybe(c, share(c)) },
        ...some(c, 30, (at) => ({
          held_on: `2026-10-${String((at % 28) + 1).padStart(2, "0")}`,
          title: `Test ${at}`,
          share: share(c),
          of_class: maybe(c, share(c)),
        })).sort((a, b) => a.held_on.localeCompare(b.held_on)),
      ]}
    />
  ),
  "line up": (c) => (
    <LineUpChart
      line={share(c)}
      title="All of it"
      rows={some(c, 40, (id) => ({ id, name: name(c), share: share(c) }))}
    />
  ),
  means: (c) => (
    <MeansChart
      whole={maybe(c, share(c))}
      wholeName="the class"
      rows={some(c, 9, (at) => ({
        key: `${at}`,
        name: name(c),
        mean: maybe(c, share(c)),
        ...interval(c),
        sure: c() < 0.3,
        count: Math.floor(c() * 40),
      }))}
    />
  ),
  part: (c) => <PartChart most={30} points={some(c, 40, (at) => ({ label: `${at}`, count: Math.floor(c() * 31) }))} />,
  times: (c) => (
    <TimesChart
      rows={some(c, 30, (at) => {
        const q1 = c() * 900;
        return { label: `${at}a`, median: maybe(c, q1 * 1.1), q1, q3: q1 * (1 + c()), lit: c() < 0.2 };
      })}
    />
  ),
  totals: (c) => {
    const max = 1 + Math.floor(c() * 150);
    return (
      <TotalsChart
        max={max}
        mean={share(c) * max}
        sem={maybe(c, c() * 4)}
        cuts={some(c, 2, () => share(c)).map((cut) => ({ at: cut * max, share: cut }))}
        counts={some(c, 30, () => ({ score: Math.floor(share(c) * max), students: 1 + Math.floor(c() * 25) }))}
      />
    );
  },
  trace: (c) => (
    <TraceChart
      title="Question 3"
      traces={some(c, 6, (at) => ({
        name: "ABCDEF"[at] ?? "",
        label: "ABCDEF"[at] ?? "",
        look: at === 0 ? ("key" as const) : ("other" as const),
        points: ["lower", "middle", "upper"].map((group) => {
          const value = share(c);
          return { group, share: value, low: Math.max(0, value - 0.1), high: Math.min(1, value + 0.1) };
        }),
      }))}
    />
  ),
  values: (c) => {
    const answer = (c() - 0.5) * 10 ** Math.floor(c() * 6);
    return (
      <ValueChart
        answer={Number(answer.toPrecision(3))}
        unit="Ω"
        ideas={some(c, 3, (at) => ({
          low: at === 0 ? null : answer * at,
          high: answer * (at + 1),
          says: `idea ${at}`,
        }))}
        values={some(c, 12, (at) => ({
          value: Number((answer * 2 * c()).toPrecision(3)),
          seats: [at * 2, at * 2 + 1],
        }))}
      />
    );
  },
};

describe("a chart of whatever there is", () => {
  it.each(Object.keys(CHARTS))("%s: no number is missing, no word is cut off, and it says what it shows", (which) => {
    for (let seed = 1; seed <= 60; seed++) {
      const chart = CHARTS[which]?.(seeded(seed));
      if (!chart) throw new Error(which);
      const found = drawn(chart);
      for (const number of found.numbers) expect(number, `seed ${seed}`).not.toMatch(/NaN|Infinity|undefined/);
      expect(found.svg, `seed ${seed}`).toMatch(/role="img" aria-label="[^"]{8,}"/);
      expect(found.svg).not.toMatch(/aria-label="[^"]*(NaN|undefined|null)/);
      expect(beyond(found), `seed ${seed}`).toEqual([]);
    }
  });
});

it("in black and white it can still be told who stands out: by a filled mark, not by a colour alone", () => {
  const row = { low: 0.4, high: 0.6, count: 9 };
  const { svg } = drawn(
    <MeansChart
      whole={0.5}
      wholeName="the class"
      rows={[
        { ...row, key: "a", name: "One", mean: 0.5, sure: false },
        { ...row, key: "b", name: "Other", mean: 0.7, sure: true },
      ]}
    />,
  );
  const fills = [...svg.matchAll(/<circle[^>]* fill="([^"]*)"/g)].map((one) => one[1]);
  expect(fills).toEqual(["var(--page)", "var(--plum)"]);
});

it("two of one short name have each their own line", () => {
  const { texts } = drawn(
    <GainsChart
      before="a"
      after="b"
      rows={[1, 2].map((id) => ({ id, name: "Ada A.", before: 0.2, after: 0.4 * id }))}
    />,
  );
  const heights = texts.filter((text) => text.says === "Ada A.").map((text) => text.y);
  expect(new Set(heights).size).toBe(2);
});
