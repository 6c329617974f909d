import { QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { FreshClient } from "./fresh-client";

test("a first answer that was made before a change is not the last one that is shown", async () => {
  const client = new FreshClient();
  const answers: ((value: string) => void)[] = [];
  const queryFn = () => new Promise<string>((resolve) => answers.push(resolve));
  const observer = new QueryObserver(client, { queryKey: ["findings", 8], queryFn });
  const stop = observer.subscribe(() => {});
  expect(answers).toHaveLength(1);

  const changed = client.invalidateQueries({ queryKey: ["findings"] });
  // Changes that follow fast ask once more, not once each, and do not keep the first answer away.
  const more = [client.invalidateQueries({ queryKey: ["findings"] }), client.invalidateQueries()];
  answers[0]?.("before the change");
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(answers).toHaveLength(2);
  answers[1]?.("after it");
  await Promise.all([changed, ...more]);
  expect(client.getQueryData(["findings", 8])).toBe("after it");
  expect(observer.getCurrentResult().isError).toBe(false);

  // What is there already is asked for again as ever; what belongs to another key is left alone.
  const again = client.invalidateQueries({ queryKey: ["findings"] });
  const other = client.invalidateQueries({ queryKey: ["marking"] });
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(answers).toHaveLength(3);
  answers[2]?.("later still");
  await Promise.all([again, other]);
  expect(client.getQueryData(["findings", 8])).toBe("later still");
  stop();
});
