import { afterEach, expect, test, vi } from "vitest";
import { type Written, writtenFile } from "./written-file";

afterEach(() => vi.unstubAllGlobals());

/** An answer that comes in pieces, and breaks off where one of them is null. */
function answers(pieces: (string | null)[], status = 200): void {
  const bytes = new TextEncoder();
  const body = new ReadableStream({
    start(stream) {
      for (const piece of pieces) {
        if (piece === null) return stream.error(new Error("broken"));
        stream.enqueue(bytes.encode(piece));
      }
      stream.close();
    },
  });
  vi.stubGlobal("fetch", () => Promise.resolve(new Response(body, { status })));
}

const line = (done: number, file: string | null = null) => `${JSON.stringify({ done, of: 16, file })}\n`;

test("steps are told one by one, however the network cuts them", async () => {
  const whole = line(0) + line(8) + line(16, "JVBERg==");
  for (const size of [1, 7, 40, 1000]) {
    const told: Written[] = [];
    answers(whole.match(new RegExp(`[\\s\\S]{1,${size}}`, "g")) ?? []);
    expect(await writtenFile("/sheets", (step) => told.push(step))).toBe("JVBERg==");
    expect(told.map((step) => step.done)).toEqual([0, 8, 16]);
  }
});

test.each([
  ["breaks off in the middle", [line(0), line(8), null]],
  ["ends without the file", [line(0), line(8)]],
  ["ends in the middle of a line", [line(0), line(16, "JVBERg==").slice(0, 20)]],
])("an answer that %s is no file", async (_, pieces) => {
  answers(pieces);
  await expect(writtenFile("/sheets", () => {})).rejects.toThrow("Nothing was lost; try again.");
});

test("a refusal is said in the server’s words, and no server in ours", async () => {
  answers(['{"says": "Nobody has handed in yet."}'], 409);
  await expect(writtenFile("/sheets", () => {})).rejects.toThrow("Nobody has handed in yet.");
  answers(["<html>"], 502);
  await expect(writtenFile("/sheets", () => {})).rejects.toThrow("The sheets could not be written.");
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("offline")));
  await expect(writtenFile("/sheets", () => {})).rejects.toThrow("Nothing was lost; try again.");
});
