import { expect, test } from "vitest";
import { elapsed, read, STOPPED, secondsOf, started, stopped } from "./stopwatch";

test("what is counted is the time it ran, however often it was stopped, started twice or stored between", () => {
  let [watch, now, ran] = [STOPPED, 1_000, 0];
  for (let step = 1; step < 400; step += 1) {
    const runs = step % 3 !== 0;
    watch = runs ? started(started(watch, now), now) : stopped(watch, now);
    watch = read(JSON.stringify(watch)) ?? STOPPED;
    const gap = (step * 7919) % 60_000;
    now += gap;
    if (runs) ran += gap;
    expect(elapsed(watch, now)).toBe(ran);
  }
  expect(secondsOf(watch, now)).toBe(Math.floor(ran / 1000));
});

test("a clock that is set back takes nothing away, and what is no stopwatch is none", () => {
  expect(elapsed(started({ counted: 5_000, since: null }, 9_000), 2_000)).toBe(5_000);
  for (const stored of [null, "", "{", "7", '{"counted":-1,"since":null}', '{"counted":1,"since":"x"}'])
    expect(read(stored)).toBeNull();
});
