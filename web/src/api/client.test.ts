import { describe, expect, it } from "vitest";
import { Refused, read } from "./client";

const reply = (status: number, error?: unknown, data?: string) =>
  Promise.resolve({ response: new Response(null, { status }), error, ...(data ? { data } : {}) });

async function refusal(call: Parameters<typeof read>[0]): Promise<Refused> {
  return (await read(call).catch((error: unknown) => error)) as Refused;
}

describe("read", () => {
  it("gives the data of a good reply", async () => {
    expect(await read(reply(200, undefined, "paper"))).toBe("paper");
  });

  it("turns a refusal into its sentence and details", async () => {
    const refused = await refusal(
      reply(409, { detail: "Not ready.", errors: [{ detail: "Option B is empty.", pointer: "" }] }),
    );
    expect(refused).toBeInstanceOf(Refused);
    expect([refused.status, refused.message, refused.problems]).toEqual([409, "Not ready.", ["Option B is empty."]]);
  });

  it("has words for what says nothing itself", async () => {
    expect((await refusal(reply(401, {}))).message).toContain("Sign in again");
    expect((await refusal(reply(500))).message).toBe("That did not work.");
    const lost = await refusal(Promise.reject(new TypeError("fetch failed")));
    expect([lost.status, lost.message.startsWith("No connection")]).toEqual([0, true]);
  });
});
