import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

/** Contrast by WCAG 2.2 (relative luminance, 1.4.3 and 1.4.6), of the colours as they stand in the style sheet. */
const sheet = readFileSync(new URL("./styles.css", import.meta.url), "utf8").replace(/\/\*[\s\S]*?\*\//g, "");

type Colours = Record<string, string>;

/** The colours that every rule with one of these selectors sets, later ones over earlier ones. */
function coloursOf(...selectors: string[]): Colours {
  const colours: Colours = {};
  for (const [, heads = "", body = ""] of sheet.matchAll(/([^{}]+)\{([^{}]*)\}/g))
    if (heads.split(",").some((head) => selectors.includes(head.trim())))
      for (const [, name = "", value = ""] of body.matchAll(/--([\w-]+):\s*(#[0-9a-f]{6})/gi)) colours[name] = value;
  return colours;
}

const LIGHT = ':root:not([data-theme="dark"]) [data-for="students"]';
const ON_GROUND = '[data-ground] [data-for="students"]';
const DARK = '[data-theme="dark"]:not([data-ground]) [data-for="students"]';
// A ground lies over either theme.
const onGround = (name: string) =>
  coloursOf(":root", '[data-theme="dark"]', "[data-ground]", `[data-ground="${name}"]`, ON_GROUND);
const GROUNDS: Record<string, Colours> = {
  light: coloursOf(":root", LIGHT),
  dark: coloursOf(":root", '[data-theme="dark"]', DARK),
  cream: onGround("cream"),
  blue: onGround("blue"),
  green: onGround("green"),
  rose: onGround("rose"),
};

function luminance(colour: string): number {
  const [red = 0, green = 0, blue = 0] = [1, 3, 5].map((at) => {
    const share = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

function contrast(one: string, other: string): number {
  const [low = 0, high = 0] = [luminance(one), luminance(other)].sort((a, b) => a - b);
  return (high + 0.05) / (low + 0.05);
}

describe("contrast", () => {
  it("is worked out as the standard says", () => {
    // WCAG 2.2, definition of contrast ratio: from 1 to 21; #767676 is the lightest grey that has 4.5:1 on white.
    expect(contrast("#000000", "#ffffff")).toBeCloseTo(21);
    expect(contrast("#767676", "#ffffff")).toBeGreaterThan(4.5);
    expect(contrast("#777777", "#ffffff")).toBeLessThan(4.5);
  });

  it.each(Object.keys(GROUNDS))("is 7:1 or more in all a student reads, on %s", (name) => {
    const colours = GROUNDS[name] as Colours;
    const low = ["ink", "graphite", "iris", "teal", "ochre", "clay"].flatMap((text) =>
      ["page", "page-2", ...(`${text}-wash` in colours ? [`${text}-wash`] : [])]
        .map((ground) => `${text} on ${ground}: ${contrast(colours[text] ?? "", colours[ground] ?? "").toFixed(1)}`)
        .filter((line) => Number(line.split(": ")[1]) < 7),
    );
    expect(low).toEqual([]);
  });
});
