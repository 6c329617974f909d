import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Refused } from "../api/client";
import { seeded } from "../seeded";
import { Outbox, type Sender } from "./outbox";

/** A store as the browser has it. */
class Store {
  #kept = new Map<string, string>();
  get length() {
    return this.#kept.size;
  }
  key = (at: number) => [...this.#kept.keys()][at] ?? null;
  getItem = (key: string) => this.#kept.get(key) ?? null;
  setItem = (key: string, value: string) => void this.#kept.set(key, value);
  removeItem = (key: string) => void this.#kept.delete(key);
  clear = () => this.#kept.clear();
}

/** A server that is there or not, hears some things twice, and keeps what it was sent, once an id. */
class Server {
  here = true;
  refuses: Refused | null = null;
  losesAnswers = 0;
  kept: { id: string; slot: string; value: number }[] = [];
  sender: Sender<{ slot: string; value: number }, number> = {
    newestOnly: true,
    send: async ({ slot, value }, id) => {
      if (!this.here) throw new Refused(0, "no connection");
      if (this.refuses) throw this.refuses;
      if (!this.kept.some((one) => one.id === id)) this.kept.push({ id, slot, value });
      if (this.losesAnswers-- > 0) throw new Refused(0, "no answer");
      return value;
    },
    arrived: () => {},
  };
  /** The last word on each slot. */
  get cells() {
    return Object.fromEntries(this.kept.map(({ slot, value }) => [slot, value]));
  }
}

const open = (store: Store, server: Server, owner = "1") => {
  const outbox = new Outbox(owner, store as unknown as Storage);
  outbox.register("mark", server.sender);
  return outbox;
};
const put = (outbox: Outbox, slot: string, value: number, pause = 0) =>
  outbox.put("mark", slot, slot, { slot, value }, { pause });
const stored = (store: Store) => [...Array(store.length).keys()].map((at) => store.key(at)).join();

describe("the outbox", () => {
  let store: Store;
  let server: Server;
  beforeEach(() => {
    vi.useFakeTimers();
    store = new Store();
    server = new Server();
  });
  afterEach(() => void vi.useRealTimers());

  it("stores a change before anything else, and forgets it when the server has it", async () => {
    server.here = false;
    const outbox = open(store, server);
    put(outbox, "a", 1);
    expect(stored(store)).toContain("verso.outbox.1.e.");
    await vi.advanceTimersByTimeAsync(5_000);
    expect(outbox.state).toMatchObject({ waiting: 1, trouble: "offline" });
    server.here = true;
    await vi.advanceTimersByTimeAsync(20_000);
    expect(outbox.state).toMatchObject({ waiting: 0, trouble: "none" });
    expect(stored(store)).toBe("");
  });

  it("sends from a new tab what a closed one left, and nothing of another teacher's", async () => {
    server.here = false;
    const first = open(store, server);
    put(first, "a", 1, 500);
    first.stop();
    server.here = true;
    const stranger = open(store, server, "2");
    await stranger.flush();
    expect(server.kept).toEqual([]);
    await open(store, server).flush();
    expect(server.cells).toEqual({ a: 1 });
  });

  it("keeps what the server refuses until its writer has seen it, and goes on with the rest", async () => {
    const outbox = open(store, server);
    server.refuses = new Refused(409, "This question is waived.");
    put(outbox, "a", 1);
    await vi.advanceTimersByTimeAsync(100);
    expect(outbox.state.refused.map((one) => one.refusal)).toEqual(["This question is waived."]);
    server.refuses = null;
    put(outbox, "b", 2);
    await vi.advanceTimersByTimeAsync(100);
    expect(server.cells).toEqual({ b: 2 });
    outbox.retry();
    await vi.advanceTimersByTimeAsync(100);
    expect(server.cells).toEqual({ a: 1, b: 2 });
    expect(stored(store)).toBe("");
  });

  it("waits for a new sign-in for as long as it takes", async () => {
    const outbox = open(store, server);
    server.refuses = new Refused(401, "signed out");
    put(outbox, "a", 1);
    await vi.advanceTimersByTimeAsync(600_000);
    expect(outbox.state).toMatchObject({ waiting: 1, refused: [], trouble: "signed out" });
    server.refuses = null;
    await outbox.sendNow();
    expect(server.cells).toEqual({ a: 1 });
  });

  it("says so where nothing can be stored", () => {
    store.setItem = () => {
      throw new Error("full");
    };
    server.here = false;
    const outbox = open(store, server);
    put(outbox, "a", 1);
    expect(outbox.state).toMatchObject({ waiting: 1, safe: false });
  });

  it("holds what is parked until it is put again", async () => {
    const outbox = open(store, server);
    outbox.put("mark", "a", "a", { slot: "a", value: 1 }, { parked: true });
    await vi.advanceTimersByTimeAsync(60_000);
    expect([server.kept, outbox.state.waiting]).toEqual([[], 0]);
    put(outbox, "a", 2);
    await vi.advanceTimersByTimeAsync(100);
    expect([server.cells, stored(store)]).toEqual([{ a: 2 }, ""]);
  });

  it("brings the last word on everything, once, whatever breaks in between", async () => {
    const ACTS = ["put", "put", "put", "outage", "back", "lost answer", "reload", "other tab"] as const;
    for (let seed = 1; seed <= 60; seed++) {
      const random = seeded(seed);
      const below = (most: number) => Math.floor(random() * most);
      store.clear();
      server = new Server();
      const tabs = [open(store, server), open(store, server)];
      const wanted: Record<string, number> = {};
      let tab = 0;
      for (let value = 1; value <= 30; value++) {
        const [act, slot, wait] = [ACTS[below(ACTS.length)], "abc".charAt(below(3)), below(3_000)];
        if (act === "put") {
          wanted[slot] = value;
          put(tabs[tab] as Outbox, slot, value, wait % 600);
          tabs[1 - tab]?.hear(null);
        }
        if (act === "outage") server.here = false;
        if (act === "back") server.here = true;
        if (act === "lost answer") server.losesAnswers = 1;
        if (act === "other tab") tab = 1 - tab;
        if (act === "reload") {
          tabs[tab]?.stop();
          tabs[tab] = open(store, server);
        }
        await vi.advanceTimersByTimeAsync(wait);
      }
      server.here = true;
      server.losesAnswers = 0;
      for (const tab of tabs) tab.hear(null);
      await vi.advanceTimersByTimeAsync(120_000);
      expect(server.cells, `seed ${seed}`).toEqual(wanted);
      expect(stored(store)).toBe("");
      for (const tab of tabs) tab.stop();
    }
  });

  it("sends what can go together as one, and what was tried as it was", async () => {
    const sent: number[][] = [];
    const outbox = new Outbox("1", store as unknown as Storage);
    let here = false;
    outbox.register<number[], void>("list", {
      send: async (body) => {
        sent.push(body);
        if (!here) throw new Refused(0, "no connection");
      },
      arrived: () => {},
      join: (a, b) => [...a, ...b],
    });
    outbox.put("list", "x", "x", [1]);
    await vi.advanceTimersByTimeAsync(10);
    outbox.put("list", "x", "x", [2]);
    outbox.put("list", "x", "x", [3]);
    here = true;
    await vi.advanceTimersByTimeAsync(20_000);
    expect(sent.at(-1)).toEqual([2, 3]);
    expect(sent.filter((one) => one.length === 1)).toEqual(sent.slice(0, -1));
    expect(stored(store)).toBe("");
  });
});
