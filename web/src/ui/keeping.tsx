import { t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";
import { Problem } from "./field";
import { timeOf } from "./words";

const PAUSE = 200;

export type Keeping = { state: "still" | "changed" | "kept" | "failed"; at: Date | null; error: unknown };

/**
 * Keeps a value as it is changed: a quarter of a second after the last change, one save at a time, always the newest value, and
 * at once when the screen is left.
 */
export function useKeeping<T>(value: T, save: (value: T) => Promise<unknown>): Keeping {
  const [keeping, setKeeping] = useState<Keeping>({ state: "still", at: null, error: null });
  const live = useRef({ value, save, kept: JSON.stringify(value), busy: false, timer: 0 });
  live.current.value = value;
  live.current.save = save;
  const run = useRef(async () => {
    const now = live.current;
    const text = JSON.stringify(now.value);
    if (now.busy || text === now.kept) return;
    now.busy = true;
    try {
      await now.save(now.value);
      now.kept = text;
      // What was changed while it was saved is not kept yet, and nothing says that it is.
      const newest = JSON.stringify(now.value) === text;
      setKeeping({ state: newest ? "kept" : "changed", at: new Date(), error: null });
    } catch (error) {
      setKeeping({ state: "failed", at: null, error });
      now.kept = text;
    } finally {
      now.busy = false;
    }
    if (JSON.stringify(live.current.value) !== now.kept) void run.current();
  });
  const text = JSON.stringify(value);
  useEffect(() => {
    if (text === live.current.kept) {
      // Changed and put back before it was saved: it is as it is kept, and nothing is left to wait for.
      if (!live.current.busy)
        setKeeping((before) =>
          before.state === "changed"
            ? { ...before, state: before.error ? "failed" : before.at ? "kept" : "still" }
            : before,
        );
      return;
    }
    setKeeping((before) => ({ ...before, state: "changed" }));
    const timer = setTimeout(() => void run.current(), PAUSE);
    return () => clearTimeout(timer);
  }, [text]);
  useEffect(() => {
    const leave = run.current;
    return () => void leave();
  }, []);
  return keeping;
}

export function KeptNote({ keeping }: { keeping: Keeping }) {
  if (keeping.state === "failed") return <Problem error={keeping.error} />;
  const words = { still: "", changed: t`keeping…`, kept: keeping.at ? t`kept ${timeOf(keeping.at)}` : "" };
  return (
    <span role="status" className="text-sm text-graphite">
      {words[keeping.state]}
    </span>
  );
}
