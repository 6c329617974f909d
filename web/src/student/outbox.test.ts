import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { type Change, Outbox, Refusal } from "./outbox";

function storage(): Storage {
  const kept = new Map<string, string>();
  return {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  } as Storage;
}

const change = (sequence: number): Change => ({
  client_id: `id-${sequence}`,
  sequence,
  item: "q",
  response: null,
  come_back: false,
  moment: "m",
  seconds_since: 0,
});
const ids = (changes: readonly Change[]) => changes.map(({ client_id }) => client_id);

describe("outbox", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it("forgets a change only when the server has it", async () => {
    const store = storage();
    let answer: (kept: string[]) => void = () => {};
    const outbox = new Outbox(
      "k",
      () => new Promise((resolve) => (answer = resolve)),
      () => {},
      store,
    );
    outbox.add(change(1));
    expect(outbox.delivery).toBe("sending");
    expect(store.getItem("k")).toContain("id-1");
    answer(["id-1"]);
    await vi.runAllTimersAsync();
    expect(outbox.delivery).toBe("kept");
    expect(store.getItem("k")).toBeNull();
  });

  it("counts an answer that was changed once more as one", () => {
    const outbox = new Outbox(
      "k",
      () => new Promise(() => {}),
      () => {},
      storage(),
    );
    for (const [sequence, item] of [
      [1, "q"],
      [2, "q"],
      [3, "r"],
    ] as const)
      outbox.add({ ...change(sequence), item });
    expect(outbox.questionsWaiting).toBe(2);
  });

  it("sends in order, again after a failure, and each change until it is acknowledged", async () => {
    const sent: string[][] = [];
    let online = false;
    const send = async (changes: Change[]) => {
      if (!online) throw new Error("offline");
      sent.push(ids(changes));
      return ids(changes);
    };
    const outbox = new Outbox("k", send, () => {}, storage());
    for (const sequence of [1, 2, 3]) outbox.add(change(sequence));
    await vi.advanceTimersByTimeAsync(600);
    expect(outbox.delivery).toBe("waiting");
    online = true;
    await vi.advanceTimersByTimeAsync(10_000);
    expect(sent).toEqual([["id-1", "id-2", "id-3"]]);
    expect(outbox.delivery).toBe("kept");
  });

  it("lets handing in wait for what is on its way", async () => {
    let answer: (kept: string[]) => void = () => {};
    const outbox = new Outbox(
      "k",
      () => new Promise((resolve) => (answer = resolve)),
      () => {},
      storage(),
    );
    outbox.add(change(1));
    const flushed = outbox.flush();
    answer(["id-1"]);
    expect(await flushed).toBe(true);
  });

  it("takes up what a closed tab left behind", async () => {
    const store = storage();
    const first = new Outbox(
      "k",
      () => Promise.reject(new Error("offline")),
      () => {},
      store,
    );
    first.add(change(7));
    first.stop();
    const send = vi.fn(async (changes: Change[]) => ids(changes));
    const second = new Outbox("k", send, () => {}, store);
    expect(ids(second.waiting)).toEqual(["id-7"]);
    expect(await second.flush()).toBe(true);
    expect(send).toHaveBeenCalledOnce();
  });

  it("says why the server refuses, and keeps the change", async () => {
    const outbox = new Outbox(
      "k",
      () => Promise.reject(new Refusal("The test is paused.")),
      () => {},
      storage(),
    );
    outbox.add(change(1));
    await vi.advanceTimersByTimeAsync(1);
    expect([outbox.delivery, outbox.refusal]).toEqual(["refused", "The test is paused."]);
    expect(ids(outbox.waiting)).toEqual(["id-1"]);
    outbox.stop();
  });
});
