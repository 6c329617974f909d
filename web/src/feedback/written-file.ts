import { t } from "@lingui/core/macro";
import { Refused } from "../api/client";

export type Written = { done: number; of: number };

/** A file that the server writes in steps, as base64; each step is told as it comes. */
export async function writtenFile(address: string, onStep: (step: Written) => void): Promise<string> {
  const lost = new Refused(0, t`The connection broke while the sheets were written. Nothing was lost; try again.`);
  const answer = await fetch(address).catch(() => Promise.reject(lost));
  if (!answer.ok || !answer.body) {
    const { says, problems } = await answer.json().catch(() => ({}));
    throw new Refused(answer.status, says ?? t`The sheets could not be written.`, problems);
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let begun = "";
  for (;;) {
    const { done, value = "" } = await reader.read().catch(() => Promise.reject(lost));
    begun += value;
    const lines = begun.split("\n");
    begun = lines.pop() ?? "";
    for (const line of lines) {
      const step = JSON.parse(line) as Written & { file: string | null };
      onStep(step);
      if (step.file !== null) return step.file;
    }
    if (done) throw lost;
  }
}
