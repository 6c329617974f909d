/** A stopwatch of one student at one task: what it has counted, and since when it runs. It goes on over a reload. */
export type Stopwatch = { counted: number; since: number | null };

export const STOPPED: Stopwatch = { counted: 0, since: null };

/** Milliseconds up to now; a clock that was set back takes nothing away. */
export const elapsed = ({ counted, since }: Stopwatch, now: number) =>
  counted + (since === null ? 0 : Math.max(0, now - since));

export const started = (watch: Stopwatch, now: number): Stopwatch =>
  watch.since === null ? { ...watch, since: now } : watch;

export const stopped = (watch: Stopwatch, now: number): Stopwatch => ({ counted: elapsed(watch, now), since: null });

export const secondsOf = (watch: Stopwatch, now: number) => Math.floor(elapsed(watch, now) / 1000);

/** What was stored of a stopwatch; nothing that is not one. */
export function read(stored: string | null): Stopwatch | null {
  try {
    const { counted, since } = JSON.parse(stored ?? "null") ?? {};
    const sound = Number.isFinite(counted) && counted >= 0 && (since === null || Number.isFinite(since));
    return sound ? { counted, since } : null;
  } catch {
    return null;
  }
}
