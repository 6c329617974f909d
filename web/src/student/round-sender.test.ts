import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { StudentRoom } from "./api";
import type { Response } from "./kinds/types";
import { Refusal } from "./outbox";
import { RoundSender } from "./round-sender";

const choice = (option: string): Response => ({ kind: "single_choice", option });
const room = (round: number) => ({ round_id: round }) as StudentRoom;

type Sent = Parameters<ConstructorParameters<typeof RoundSender>[0]>[0];

describe("the answer of a round on its way", () => {
  const rooms = vi.fn();
  let sent: Sent[];
  let open: { ok: () => void; fail: (error: unknown) => void }[];
  let sender: RoundSender;
  beforeEach(() => {
    vi.useFakeTimers();
    rooms.mockReset();
    [sent, open] = [[], []];
    sender = new RoundSender(
      (change) => {
        sent.push(change);
        return new Promise((resolve, reject) =>
          open.push({ ok: () => resolve(room(change.round)), fail: (error) => reject(error) }),
        );
      },
      rooms,
      () => {},
    );
  });
  afterEach(() => void vi.useRealTimers());
  const settle = async (act: "ok" | Error) => {
    const one = open.shift();
    if (act === "ok") one?.ok();
    else one?.fail(act);
    await vi.advanceTimersByTimeAsync(0);
  };

  it("shows what was chosen at once, and lets go of it when it has arrived", async () => {
    sender.give(7, choice("a"));
    expect(sender.of(7)).toEqual(choice("a"));
    expect(sender.of(8)).toBeUndefined();
    expect(sender.of(null)).toBeUndefined();
    await settle("ok");
    expect(sender.of(7)).toBeUndefined();
    expect(rooms).toHaveBeenCalledTimes(1);
  });

  it("sends the newest after the one that is on its way, and nothing between", async () => {
    for (const option of "abcd") sender.give(7, choice(option));
    expect(sent.length).toBe(1);
    await settle("ok");
    expect(sender.of(7)).toEqual(choice("d"));
    await vi.advanceTimersByTimeAsync(0);
    await settle("ok");
    expect(sent.map((change) => (change.response as { option: string }).option)).toEqual(["a", "d"]);
    expect(sender.of(7)).toBeUndefined();
  });

  it("tries again with the same id until it arrives", async () => {
    sender.give(7, choice("b"));
    for (let n = 0; n < 3; n++) {
      await settle(new TypeError("network"));
      expect(sender.lost).toBe(true);
      expect(sender.of(7)).toEqual(choice("b"));
      await vi.advanceTimersByTimeAsync(2_000);
    }
    await settle("ok");
    expect(sender.lost).toBe(false);
    expect(new Set(sent.map((change) => change.client_id)).size).toBe(1);
    expect(sent.length).toBe(4);
  });

  it("says why an answer was not taken, until the next one", async () => {
    sender.give(7, choice("b"));
    await settle(new Refusal("Your teacher has stopped collecting."));
    expect(sender.says).toBe("Your teacher has stopped collecting.");
    expect(sender.of(7)).toBeUndefined();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(sent.length).toBe(1);
    sender.give(8, choice("c"));
    expect(sender.says).toBeNull();
  });

  it("does not lose what was chosen while a refused one was on its way", async () => {
    sender.give(7, choice("b"));
    sender.give(8, choice("c"));
    await settle(new Refusal("Another question is on by now."));
    expect(sender.of(8)).toEqual(choice("c"));
    await vi.advanceTimersByTimeAsync(0);
    await settle("ok");
    expect(sent.map((change) => change.round)).toEqual([7, 8]);
  });

  it("takes an answer back like any other change", async () => {
    sender.give(7, choice("b"));
    await settle("ok");
    sender.give(7, null);
    expect(sender.of(7)).toBeNull();
    await settle("ok");
    expect(sent.at(-1)?.response).toBeNull();
  });

  it("is quiet once the screen is left", async () => {
    sender.give(7, choice("b"));
    await settle(new TypeError("network"));
    sender.stop();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(sent.length).toBe(1);
  });
});
