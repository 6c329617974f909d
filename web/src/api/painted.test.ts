import { afterEach, describe, expect, it, vi } from "vitest";
import { painted } from "./painted";

describe("painted", () => {
  afterEach(() => void vi.unstubAllGlobals());

  it("waits for the picture, and in a covered window no longer than a moment", async () => {
    let draw: () => void = () => undefined;
    vi.stubGlobal("document", { hidden: false });
    vi.stubGlobal("requestAnimationFrame", (then: () => void) => {
      draw = then;
    });
    let drawn = false;
    const waited = painted().then(() => {
      drawn = true;
    });
    await Promise.resolve();
    expect(drawn).toBe(false);
    draw();
    await waited;
    // Nothing is ever drawn here: it goes on all the same.
    vi.stubGlobal("requestAnimationFrame", () => undefined);
    await painted();
  });

  it("holds nothing up in a page that nobody sees", async () => {
    vi.stubGlobal("document", { hidden: true });
    vi.stubGlobal("requestAnimationFrame", () => undefined);
    vi.useFakeTimers();
    await painted();
    vi.useRealTimers();
  });
});
