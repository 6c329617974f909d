import { describe, expect, it } from "vitest";
import { type At, type Entry, inOrder, nextWaiting, type Order, sequence } from "./sequence";

const entry = (number: number, state: Entry["state"] = "waiting", words = 0): Entry => ({
  number,
  state,
  words,
  marks: state === "kept" ? 1 : null,
  beside: false,
  again: false,
});
const class_ = (size: number) => [...Array(size).keys()].map((at) => entry(at + 1, "waiting", (7 * at) % 5));
const key = (at: At) => `${at.item} ${at.number}`;

describe("the way through a pile", () => {
  it("comes to every answer once, in whatever order, and to none where nothing was given", () => {
    const entries = { a: [...class_(9), entry(10, "nothing")], b: class_(10), c: [entry(3)] };
    const wanted = Object.entries(entries).flatMap(([item, some]) =>
      some.filter((one) => one.state !== "nothing").map((one) => `${item} ${one.number}`),
    );
    for (const order of ["number", "chance", "short", "unmarked"] as Order[])
      for (const byStudent of [true, false]) {
        const all = sequence(entries, ["a", "b", "c"], byStudent, order, 4).map(key);
        expect(new Set(all).size).toBe(all.length);
        expect([...all].sort()).toEqual([...wanted].sort());
        // A question, or a student, is left only when it is done.
        const groups = all.map((one) => one.split(" ")[byStudent ? 1 : 0]);
        const changes = groups.filter((group, at) => group !== groups[at - 1]).length;
        expect(changes).toBe(new Set(groups).size);
      }
  });

  it("is the same each time for a sitting, and by chance not that of the numbers", () => {
    const numbers = (seed: number) => inOrder(class_(24), "chance", seed).map((one) => one.number);
    expect(numbers(5)).toEqual(numbers(5));
    const orders = new Set([1, 2, 3, 4, 5, 6, 7, 8].map((seed) => numbers(seed).join()));
    expect(orders.size).toBe(8);
    expect(orders.has([...Array(24).keys()].map((at) => at + 1).join())).toBe(false);
  });

  it("goes to the next one that waits, round to those that were passed over, until none is left", () => {
    const marks = [entry(1), entry(2, "kept"), entry(3, "draft"), entry(4)];
    const entries = { a: marks, b: [entry(2)] };
    const all = sequence(entries, ["a", "b"], false, "number", 1);
    let at: At | null = { item: "a", number: 3 };
    const seen: string[] = [];
    for (let turn = 0; at && turn < 10; turn++) {
      const now: At = at;
      entries[now.item as "a" | "b"] = entries[now.item as "a" | "b"].map((one) =>
        one.number === now.number ? entry(one.number, "kept") : one,
      );
      seen.push(key(now));
      at = nextWaiting(all, entries, now);
    }
    expect(seen).toEqual(["a 3", "a 4", "b 2", "a 1"]);
  });
});
