import { t } from "@lingui/core/macro";
/** Which criterion the digit keys are at, and what has been typed into it so far. */
export type Typing = { at: number; typed: string };
export type Typed = Typing & {
  /** The points that the criterion has now; null where it has none any more, absent where nothing changed. */
  points?: number | null;
  refusal?: string;
};

type Criterion = { name?: string; max: number };

/** Whether one key says it all: points up to nine. */
export const isOneKey = (criterion: Criterion) => criterion.max < 10;

/**
 * A digit. Where one key says it all it is the points, and the next criterion is at hand; where more digits can follow
 * they collect until a key goes on.
 */
export function typeDigit(now: Typing, digit: string, criteria: Criterion[]): Typed {
  const criterion = criteria[now.at];
  if (!criterion) return now;
  const typed = isOneKey(criterion) ? digit : (now.typed + digit).replace(/^0+(?=\d)/, "");
  const points = Number(typed);
  if (points > criterion.max)
    return {
      ...now,
      refusal: t`${points} is more than the ${criterion.max} of ${criterion.name || t`this criterion`}.`,
    };
  if (isOneKey(criterion)) return { at: Math.min(now.at + 1, criteria.length - 1), typed: "", points };
  return { at: now.at, typed, points };
}

/** The last digit taken back. */
export function takeBack(now: Typing): Typed {
  const typed = now.typed.slice(0, -1);
  return { at: now.at, typed, points: typed === "" ? null : Number(typed) };
}

/** The criterion that is without points and comes next, going round once; null where all have some. */
export function nextEmpty(at: number, criteria: { id: string }[], points: Record<string, number>): number | null {
  const places = [...criteria.keys()];
  const round = [...places.slice(at + 1), ...places.slice(0, at + 1)];
  return round.find((place) => points[criteria[place]?.id ?? ""] === undefined) ?? null;
}
