import { useCallback, useEffect, useState } from "react";

const MOST = 60;
const PAUSE = 300;
/** `at`: when it was changed last; 0 ends the step. */
type Past<T> = { past: T[]; future: T[]; now: T; at: number };

/**
 * A draft that can be undone step by step, also after the page was loaded again: the steps are kept in this window's
 * session store. A step ends where the typing pauses. Starts afresh when `from` is not what the steps lead to, since
 * then someone else has changed it.
 */
export function useHistory<T>(key: string, from: T) {
  const [steps, setSteps] = useState<Past<T>>(() => load(key, from));
  useEffect(() => {
    try {
      sessionStorage.setItem(key, JSON.stringify(steps));
    } catch {
      sessionStorage.removeItem(key); // a full store costs the older steps, never the draft
    }
  }, [key, steps]);
  const set = useCallback((change: T | ((now: T) => T)) => {
    const at = Date.now();
    setSteps((before) => {
      const now = typeof change === "function" ? (change as (now: T) => T)(before.now) : change;
      // An editor may say the same again, of a space at the end or the moving of the caret: no change, and no step.
      if (JSON.stringify(now) === JSON.stringify(before.now)) return before;
      // Within one burst of typing the step is the one that began it.
      const going = at - before.at < PAUSE && before.past.length > 0;
      return { past: going ? before.past : [...before.past, before.now].slice(-MOST), future: [], now, at };
    });
  }, []);
  const undo = useCallback(() => {
    setSteps((before) => {
      const { past, future, now } = before;
      const last = past.at(-1);
      return last === undefined ? before : { past: past.slice(0, -1), future: [now, ...future], now: last, at: 0 };
    });
  }, []);
  const redo = useCallback(() => {
    setSteps((before) => {
      const { past, future, now } = before;
      const next = future[0];
      return next === undefined ? before : { past: [...past, now], future: future.slice(1), now: next, at: 0 };
    });
  }, []);
  return { draft: steps.now, set, undo, redo, canUndo: steps.past.length > 0, canRedo: steps.future.length > 0 };
}

function load<T>(key: string, from: T): Past<T> {
  try {
    const kept = JSON.parse(sessionStorage.getItem(key) ?? "") as Past<T>;
    if (JSON.stringify(kept.now) === JSON.stringify(from))
      return { past: kept.past, future: kept.future, now: from, at: 0 };
  } catch {
    // nothing kept, or not readable: a fresh start
  }
  return { past: [], future: [], now: from, at: 0 };
}

/** Ctrl Z and Ctrl Shift Z (or Ctrl Y) inside an element. */
export function undoKeys(undo: () => void, redo: () => void) {
  return (event: React.KeyboardEvent) => {
    if (!(event.ctrlKey || event.metaKey)) return;
    const letter = event.key.toLowerCase();
    if (letter !== "z" && letter !== "y") return;
    event.preventDefault();
    if (letter === "y" || event.shiftKey) redo();
    else undo();
  };
}
