import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Refused } from "../../api/client";
import type { Change } from "./grid";
import { MarksQueue } from "./queue";

const mark = (seat: number, points: number | null): Change => ({
  marks: [{ seat, item: "a", points }],
  presence: [],
});

/** A store as the browser has it. */
function store() {
  const kept = new Map<string, string>();
  return {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  };
}

/** A server that answers when the test says so, and keeps what it was sent. */
class Server {
  sent: Change[] = [];
  cells = new Map<number, number | null>();
  private answers: { ok: () => void; fail: (error: unknown) => void }[] = [];
  take = (change: Change) => {
    this.sent.push(change);
    return new Promise<number>((resolve, reject) => {
      this.answers.push({
        ok: () => {
          for (const { seat, points } of change.marks) this.cells.set(seat, points);
          resolve(this.sent.length);
        },
        fail: reject,
      });
    });
  };
  async answers_ok() {
    this.answers.shift()?.ok();
    await vi.advanceTimersByTimeAsync(0);
  }
  async answers_no(error: unknown) {
    this.answers.shift()?.fail(error);
    await vi.advanceTimersByTimeAsync(0);
  }
  get open() {
    return this.answers.length;
  }
}

describe("marks on their way", () => {
  let server: Server;
  const pages = vi.fn();
  const redraws = vi.fn();
  const queue = () => new MarksQueue("marks.1", server.take, pages, redraws);
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("localStorage", store());
    server = new Server();
    pages.mockReset();
    redraws.mockReset();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("sends one at a time, and what gathered meanwhile in one piece", async () => {
    const one = queue();
    one.add(mark(1, 5));
    one.add(mark(2, 3));
    one.add(mark(2, 4));
    expect(server.open).toBe(1);
    expect(one.waiting.length).toBe(3);
    await server.answers_ok();
    expect(one.waiting.length).toBe(2);
    await server.answers_ok();
    expect(server.sent.map((change) => change.marks)).toEqual([
      [{ seat: 1, item: "a", points: 5 }],
      [{ seat: 2, item: "a", points: 4 }],
    ]);
    expect(one.waiting).toEqual([]);
    expect(localStorage.getItem("marks.1")).toBeNull();
    expect(pages.mock.calls).toEqual([[1], [2]]);
    expect(one.keptAt).not.toBeNull();
  });

  it("waits without a connection, tries again, and says so meanwhile", async () => {
    const one = queue();
    one.add(mark(1, 5));
    await server.answers_no(new Refused(0, "No connection"));
    expect([one.offline, one.waiting.length]).toEqual([true, 1]);
    expect(one.error).toBeNull();
    await vi.advanceTimersByTimeAsync(2_999);
    expect(server.sent.length).toBe(1);
    await vi.advanceTimersByTimeAsync(1);
    await server.answers_ok();
    expect([one.offline, one.waiting.length]).toEqual([false, 0]);
    expect(server.cells.get(1)).toBe(5);
  });

  it("goes on after the page was closed and opened again", async () => {
    const one = queue();
    one.add(mark(1, 5));
    one.add(mark(3, 2));
    await server.answers_no(new Refused(0, "No connection"));
    one.stop();
    const again = queue();
    expect(again.waiting.length).toBe(2);
    void again.flush();
    await server.answers_ok();
    expect([server.cells.get(1), server.cells.get(3)]).toEqual([5, 2]);
    expect(localStorage.getItem("marks.1")).toBeNull();
  });

  it("lets go of what the server refuses, and of nothing that came after it", async () => {
    const one = queue();
    one.add(mark(1, 99));
    one.add(mark(2, 3));
    const no = new Refused(422, "Some marks cannot stand.", ["S1: at most 6."]);
    await server.answers_no(no);
    expect(one.error).toBe(no);
    expect(one.offline).toBe(false);
    expect(one.waiting).toEqual([mark(2, 3)]);
    await vi.advanceTimersByTimeAsync(0);
    await server.answers_ok();
    expect([...server.cells]).toEqual([[2, 3]]);
    expect(one.error).toBeNull();
  });

  it("keeps the marks of a teacher who is signed out, and of a server in trouble", async () => {
    for (const status of [401, 500, 503]) {
      const one = queue();
      one.add(mark(1, status % 7));
      await server.answers_no(new Refused(status, "No."));
      expect(one.waiting.length).toBe(1);
      await vi.advanceTimersByTimeAsync(3_000);
      await server.answers_ok();
      expect(one.waiting).toEqual([]);
      expect(server.cells.get(1)).toBe(status % 7);
    }
  });

  it("starts afresh where the store holds what it cannot read", () => {
    localStorage.setItem("marks.1", "{broken");
    expect(queue().waiting).toEqual([]);
  });

  it("has everything on the server in the end, whatever the network does", async () => {
    for (let seed = 1; seed <= 40; seed++) {
      server = new Server();
      localStorage.removeItem("marks.1");
      let state = seed;
      const random = (below: number) => {
        state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
        return Math.floor((state / 2 ** 32) * below);
      };
      let one = queue();
      const want = new Map<number, number | null>();
      for (let n = 0; n < 25; n++) {
        const [seat, points] = [random(4), random(6) === 0 ? null : random(7)];
        want.set(seat, points);
        one.add(mark(seat, points));
        const luck = random(4);
        if (luck === 0) await server.answers_no(new Refused(0, "No connection"));
        else if (luck === 1) await server.answers_ok();
        else if (luck === 2) await vi.advanceTimersByTimeAsync(random(4_000));
        else if (server.open === 0) {
          one.stop();
          one = queue();
          void one.flush();
        }
      }
      while (one.waiting.length > 0) {
        await server.answers_ok();
        await vi.advanceTimersByTimeAsync(3_000);
      }
      expect(new Map([...server.cells].sort())).toEqual(new Map([...want].sort()));
    }
  });
});
