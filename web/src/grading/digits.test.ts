import { describe, expect, it } from "vitest";
import { nextEmpty, type Typing, takeBack, typeDigit } from "./digits";

const essay = [
  { id: "a", name: "Analysis", max: 13 },
  { id: "b", name: "Evidence", max: 20 },
  { id: "c", name: "Style", max: 3 },
];

/** Keys as a marker presses them; `|` goes on. What each criterion has in the end, and what was refused. */
function press(keys: string, criteria: { id: string; name: string; max: number }[]) {
  const points: Record<string, number> = {};
  const refusals: string[] = [];
  let now: Typing = { at: 0, typed: "" };
  for (const key of keys) {
    if (key === "|") {
      now = { at: Math.min(now.at + 1, criteria.length - 1), typed: "" };
      continue;
    }
    const id = criteria[now.at]?.id ?? "";
    const step = key === "<" ? takeBack(now) : typeDigit(now, key, criteria);
    if (step.refusal) refusals.push(step.refusal);
    if (step.points === null) delete points[id];
    else if (step.points !== undefined) points[id] = step.points;
    now = { at: step.at, typed: step.typed };
  }
  return { points, refusals, at: now.at };
}

describe("digits of a rubric", () => {
  it("collect in the criterion at hand until a key goes on", () => {
    expect(press("11|20|3", essay)).toEqual({ points: { a: 11, b: 20, c: 3 }, refusals: [], at: 2 });
    expect(press("1|1|1", essay).points).toEqual({ a: 1, b: 1, c: 1 });
  });

  it("say what is too large, and leave what stood", () => {
    const { points, refusals } = press("14|5", essay);
    expect(points).toEqual({ a: 1, b: 5 });
    expect(refusals).toEqual(["14 is more than the 13 of Analysis."]);
    expect(press("9", [{ id: "s", name: "Style", max: 3 }])).toMatchObject({
      points: {},
      refusals: [expect.any(String)],
    });
  });

  it("are one key a criterion where one key says it all", () => {
    const short = ["a", "b", "c"].map((id) => ({ id, name: id, max: 3 }));
    expect(press("213", short).points).toEqual({ a: 2, b: 1, c: 3 });
  });

  it("type any whole number up to any maximum", () => {
    for (let max = 1; max <= 120; max++)
      for (let value = 0; value <= max; value++) {
        const { points, refusals } = press(String(value), [{ id: "x", name: "X", max }, ...essay]);
        expect([points.x, refusals]).toEqual([value, []]);
      }
  });

  it("are taken back one by one", () => {
    expect(press("12<3", essay).points).toEqual({ a: 13 });
    expect(press("12<<", essay).points).toEqual({});
  });

  it("go on to what is still empty, going round once", () => {
    expect(nextEmpty(0, essay, { a: 1 })).toBe(1);
    expect(nextEmpty(2, essay, { b: 1, c: 1 })).toBe(0);
    expect(nextEmpty(2, essay, { a: 1, b: 1, c: 1 })).toBeNull();
  });
});
