import { t } from "@lingui/core/macro";
/** Points of all criteria together. */
export const sum = (points: Record<string, number>): number => Object.values(points).reduce((a, b) => a + b, 0);

export type Judged = { criterion: string; given: number; sample: number; reason: string };

/** What a marker gave a sample answer beside what its rubric says, criterion by criterion. */
export function beside(
  criteria: { id: string; name?: string }[],
  given: Record<string, number>,
  sample: Record<string, number>,
  reasons: Record<string, string> = {},
): Judged[] {
  return criteria
    .filter((criterion) => sample[criterion.id] !== undefined)
    .map((criterion) => ({
      criterion: criterion.name || t`A criterion`,
      given: given[criterion.id] ?? 0,
      sample: sample[criterion.id] ?? 0,
      reason: reasons[criterion.id] ?? "",
    }));
}

/** “Idea half a point above the sample, Words the same.” Where nothing differs: as the sample. */
export function verdict(judged: Judged[]): string {
  const off = judged.filter((one) => one.given !== one.sample);
  if (off.length === 0) return t`As the sample.`;
  const words = (one: Judged) => {
    const by = Math.abs(one.given - one.sample);
    const size = by === 0.5 ? t`half a point` : by === 1 ? t`a point` : t`${by} points`;
    return one.given > one.sample
      ? t`${one.criterion}: ${size} above the sample`
      : t`${one.criterion}: ${size} below the sample`;
  };
  return `${off.map(words).join("; ")}.`;
}
