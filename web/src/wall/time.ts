import { useEffect, useState } from "react";

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
