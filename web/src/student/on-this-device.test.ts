import { describe, expect, it } from "vitest";
import type { SeatPage } from "./api";
import { heard, sinceHeard } from "./heard";
import { later, withGiven } from "./on-this-device";

const page = { seat: 7, sequence: 3, seconds_left: 600, answers: [{ item: "a", response: null, come_back: true }] };
const asPage = page as unknown as SeatPage;

describe("the copy on this device", () => {
  it("has all that was given here, also what the server acknowledged after the copy was made", () => {
    const given = { b: { response: { kind: "true_false", value: true } as const, comeBack: false } };
    const now = withGiven(asPage, { sequence: 9, given });
    expect(now.answers).toEqual([{ item: "b", response: { kind: "true_false", value: true }, come_back: false }]);
    // What is given next is newer than everything before it, here and there.
    expect(now.sequence).toBe(9);
    expect(withGiven(asPage, { sequence: 2, given }).sequence).toBe(3);
    expect(withGiven(asPage, null)).toBe(asPage);
  });

  it("never has less time than none, nor more than it had", () => {
    expect(later(asPage, 60).seconds_left).toBe(540);
    expect(later(asPage, 10_000_000).seconds_left).toBe(0);
    expect(later(asPage, -5).seconds_left).toBe(600);
    expect(later({ ...asPage, seconds_left: null }, 1).seconds_left).toBeNull();
  });
});

describe("what is done without a connection", () => {
  it("names the last moment of the server and what passed since", () => {
    const kept = new Map<string, string>();
    const store = {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (k: string, v: string) => kept.set(k, v),
    };
    expect(sinceHeard(store as unknown as Storage)).toEqual({ moment: "", seconds_since: 0 });
    heard("signed", store as unknown as Storage);
    const { moment, seconds_since } = sinceHeard(store as unknown as Storage);
    expect(moment).toBe("signed");
    expect(seconds_since).toBeGreaterThanOrEqual(0);
    // A device whose clock was set back in between gives no time below nothing.
    kept.set("verso.heard", JSON.stringify({ moment: "signed", at: Number.MAX_SAFE_INTEGER }));
    expect(sinceHeard(store as unknown as Storage).seconds_since).toBe(0);
  });
});
