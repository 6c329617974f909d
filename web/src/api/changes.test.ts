import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test, vi } from "vitest";
import { answered } from "./changes";

test("a reading that began before a change never puts back what was, and is asked for once more", async () => {
  const client = new QueryClient();
  const readings: ((page: string) => void)[] = [];
  const queryKey = ["sitting", 7];
  const queryFn = () => new Promise<string>((resolve) => readings.push(resolve));
  const close = new QueryObserver(client, { queryKey, queryFn }).subscribe(() => {});
  readings[0]?.("as it was");
  await vi.waitFor(() => expect(client.getQueryData(queryKey)).toBe("as it was"));
  void client.invalidateQueries({ queryKey });
  answered(client, queryKey, "as it is");
  readings[1]?.("as it was");
  await vi.waitFor(() => expect(readings).toHaveLength(3));
  expect(client.getQueryData(queryKey)).toBe("as it is");
  readings[2]?.("as it is now");
  await vi.waitFor(() => expect(client.getQueryData(queryKey)).toBe("as it is now"));
  close();
});
