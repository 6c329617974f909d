import { useEffect, useState } from "react";
import { read, STOPPED, type Stopwatch, secondsOf, started, stopped } from "./stopwatch";

const TICK = 250;

/** The stopwatch of one student at one task, kept in this browser while it runs. */
export function useStopwatch(place: string, known: number | null) {
  const key = `verso.stopwatch.${place}`;
  const before: Stopwatch = known === null ? STOPPED : { counted: known * 1000, since: null };
  const [watch, setWatch] = useState(() => read(localStorage.getItem(key)) ?? before);
  const [now, setNow] = useState(Date.now);
  const runs = watch.since !== null;
  useEffect(() => {
    if (!runs) return;
    const timer = setInterval(() => setNow(Date.now()), TICK);
    return () => clearInterval(timer);
  }, [runs]);
  const put = (next: Stopwatch) => {
    setNow(Date.now());
    setWatch(next);
    if (next.since === null) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(next));
  };
  return {
    runs,
    seconds: secondsOf(watch, now),
    start: () => put(started(watch, Date.now())),
    /** What it has counted, in seconds. */
    stop: () => {
      const next = stopped(watch, Date.now());
      put(next);
      return secondsOf(next, Date.now());
    },
    zero: () => put(STOPPED),
  };
}
