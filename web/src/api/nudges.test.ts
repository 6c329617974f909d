import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { listen } from "./nudges";

/** A socket of the test: what it was opened for, and the hands of the server. */
class FakeSocket {
  static all: FakeSocket[] = [];
  onopen = () => {};
  onmessage = (_: { data: string }) => {};
  onclose = () => {};
  readonly address: string;
  constructor(address: string) {
    this.address = address;
    FakeSocket.all.push(this);
  }
  close() {
    this.onclose();
  }
  says(message: object) {
    this.onmessage({ data: JSON.stringify(message) });
  }
}

const latest = () => FakeSocket.all.at(-1) as FakeSocket;

describe("listening for nudges", () => {
  const heard = vi.fn();
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("WebSocket", FakeSocket);
    vi.stubGlobal("location", { protocol: "https:", host: "school.example" });
    FakeSocket.all = [];
    heard.mockReset();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("asks once when it is connected, since a nudge may have been missed before", () => {
    listen("/ws/seat", heard);
    expect(latest().address).toBe("wss://school.example/ws/seat");
    latest().onopen();
    expect(heard).toHaveBeenCalledTimes(1);
  });

  it("makes of many nudges one call now and one at their end", () => {
    listen("/ws/seat", heard);
    for (let n = 0; n < 60; n++) latest().says({ changed: true });
    expect(heard).toHaveBeenCalledTimes(1);
    vi.advanceTimersByTime(1000);
    expect(heard).toHaveBeenCalledTimes(2);
  });

  it("never leaves the last nudge unheard, however they come", () => {
    for (let seed = 1; seed <= 20; seed++) {
      heard.mockReset();
      const stop = listen("/ws/seat", heard);
      let at = 0;
      for (let n = 0; n < 30; n++) {
        at = (seed * 7919 + n * 104729) % 170;
        vi.advanceTimersByTime(at);
        latest().says({ changed: true });
      }
      const before = heard.mock.calls.length;
      vi.advanceTimersByTime(100);
      // Either the last one was heard at once, or it is by now.
      expect(heard.mock.calls.length).toBeGreaterThanOrEqual(before);
      expect(heard.mock.calls.length).toBeGreaterThan(1);
      const settled = heard.mock.calls.length;
      vi.advanceTimersByTime(10_000);
      expect(heard).toHaveBeenCalledTimes(settled);
      stop();
    }
  });

  it("passes on at once what is shown to everybody", () => {
    listen("/ws/seat", heard);
    latest().says({ changed: true });
    latest().says({ changed: true, shown: { stage: "asking" } });
    latest().says({ changed: true, shown: { stage: "stopped" } });
    expect(heard.mock.calls).toEqual([[], [{ stage: "asking" }], [{ stage: "stopped" }]]);
  });

  it("comes back by itself, later each time, and asks again then", () => {
    listen("/ws/seat", heard);
    for (const wait of [500, 1000, 2000, 4000]) {
      const count = FakeSocket.all.length;
      latest().close();
      vi.advanceTimersByTime(wait - 1);
      expect(FakeSocket.all.length).toBe(count);
      vi.advanceTimersByTime(1);
      expect(FakeSocket.all.length).toBe(count + 1);
    }
    latest().onopen();
    expect(heard).toHaveBeenCalledTimes(1);
    latest().close();
    vi.advanceTimersByTime(500);
    expect(FakeSocket.all.length).toBe(6);
  });

  it("is quiet once it is stopped", () => {
    const stop = listen("/ws/seat", heard);
    latest().says({ changed: true });
    latest().says({ changed: true });
    stop();
    vi.advanceTimersByTime(60_000);
    expect(heard).toHaveBeenCalledTimes(1);
    expect(FakeSocket.all.length).toBe(1);
  });
});
