import { useEffect, useState } from "react";

/** Whole seconds since a moment of the server's clock, counted on while the page is open. */
export function useSince(at: string | null, now: string | undefined): number {
  const [offset, setOffset] = useState(0);
  const [, tick] = useState(0);
  useEffect(() => {
    if (now) setOffset(Date.parse(now) - Date.now());
  }, [now]);
  useEffect(() => {
    if (!at) return;
    const timer = setInterval(() => tick((n) => n + 1), 1000);
    return () => clearInterval(timer);
  }, [at]);
  return at ? Math.max(0, Math.floor((Date.now() + offset - Date.parse(at)) / 1000)) : 0;
}
