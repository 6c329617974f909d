import { useEffect, useRef, useState } from "react";

/** How much later than by this clock, which is behind the server's by the way here. */
const AFTER = 300;

/** Calls once when a round’s time has run out: the server stops it then, and nudges nobody. */
export function useTimeUp(left: number | null, onUp: () => void): void {
  const latest = useRef(onUp);
  latest.current = onUp;
  const up = left === 0;
  useEffect(() => {
    if (!up) return;
    const timer = setTimeout(() => latest.current(), AFTER);
    return () => clearTimeout(timer);
  }, [up]);
}

export const clock = (seconds: number) => `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;

/** Seconds left of a round, by the server's clock; null where the teacher says when to stop. */
export function useLeft({ ends_at, now }: { ends_at: string | null; now: string }): number | null {
  const [offset, setOffset] = useState(() => Date.parse(now) - Date.now());
  const [, tick] = useState(0);
  useEffect(() => setOffset(Date.parse(now) - Date.now()), [now]);
  useEffect(() => {
    if (!ends_at) return;
    const timer = setInterval(() => tick((n) => n + 1), 500);
    return () => clearInterval(timer);
  }, [ends_at]);
  return ends_at ? Math.max(0, Math.ceil((Date.parse(ends_at) - Date.now() - offset) / 1000)) : null;
}
