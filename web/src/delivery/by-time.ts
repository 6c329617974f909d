import type { Schemas } from "../api/client";

type Sitting = Schemas["SittingLine"];

/** Where a sitting stands in time, as a teacher looks for it. */
export type Time = "open" | "paused" | "entering" | "missed" | "today" | "week" | "later" | "closed";

const DAY = 24 * 60 * 60 * 1000;

/**
 * `missed`: planned for a day that is over, and never opened. `entering`: given elsewhere, and its marks are not all in;
 * nobody sits it.
 */
export function timeOfSitting(sitting: Pick<Sitting, "state" | "planned_for" | "marks_only">, now: Date): Time {
  if (sitting.state === "open" || sitting.state === "paused") return sitting.marks_only ? "entering" : sitting.state;
  if (sitting.state === "closed" || sitting.state === "released") return "closed";
  if (!sitting.planned_for) return "later";
  const today = new Date(now.getFullYear(), now.getMonth(), now.getDate()).getTime();
  const at = new Date(sitting.planned_for).getTime();
  if (at < today) return "missed";
  if (at < today + DAY) return "today";
  return at < today + 7 * DAY ? "week" : "later";
}

/** The month in which a sitting was closed, as the first moment of it; what was closed within a week stands by itself. */
export function closedIn(closed_at: string | null, now: Date): Date | null {
  const at = closed_at ? new Date(closed_at) : now;
  return now.getTime() - at.getTime() < 7 * DAY ? null : new Date(at.getFullYear(), at.getMonth(), 1);
}

/** Those that stand under one heading, in the order in which they came. */
export function together<T, K>(list: readonly T[], of: (one: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const one of list) groups.set(of(one), [...(groups.get(of(one)) ?? []), one]);
  return groups;
}
