import { useCallback, useEffect, useState } from "react";

const MOST = 60;
/** Milliseconds: less is a search for the next key, more is a thought. */
const PAUSE = 1000;
/** `at`: when it was changed last; 0 ends the step. `place`: which text is being typed; nothing where it was no typing. */
type Past<T> = { past: T[]; future: T[]; now: T; at: number; place: string | null };

/**
 * A draft that can be undone step by step, also after the page was loaded again: the steps are kept in this window's
 * session store. A step ends where the typing pauses or goes on in another field; what a button does (an option taken
 * out, a question moved) is a step of its own, however soon it follows. Starts afresh when `from` is not what the steps
 * lead to, since then someone else has changed it.
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
      const place = placeTyped(before.now, now);
      const going = place !== null && place === before.place && at - before.at < PAUSE && before.past.length > 0;
      return { past: going ? before.past : [...before.past, before.now].slice(-MOST), future: [], now, at, place };
    });
  }, []);
  const undo = useCallback(() => {
    setSteps((before) => {
      const { past, future, now } = before;
      const last = past.at(-1);
      return last === undefined
        ? before
        : { past: past.slice(0, -1), future: [now, ...future], now: last, at: 0, place: null };
    });
  }, []);
  const redo = useCallback(() => {
    setSteps((before) => {
      const { past, future, now } = before;
      const next = future[0];
      return next === undefined
        ? before
        : { past: [...past, now], future: future.slice(1), now: next, at: 0, place: null };
    });
  }, []);
  return { draft: steps.now, set, undo, redo, canUndo: steps.past.length > 0, canRedo: steps.future.length > 0 };
}

function load<T>(key: string, from: T): Past<T> {
  try {
    const kept = JSON.parse(sessionStorage.getItem(key) ?? "") as Past<T>;
    if (JSON.stringify(kept.now) === JSON.stringify(from))
      return { past: kept.past, future: kept.future, now: from, at: 0, place: null };
  } catch {
    // nothing kept, or not readable: a fresh start
  }
  return { past: [], future: [], now: from, at: 0, place: null };
}

/**
 * Where two states of a draft differ in one text or number and in nothing else, the way to it: one field was typed in.
 * `null` where something was added, taken out or moved, or more than one thing changed at once.
 */
export function placeTyped(before: unknown, now: unknown): string | null {
  const typed = (value: unknown) => typeof value === "string" || typeof value === "number";
  if (typed(before) && typed(now)) return "";
  if (typeof before !== "object" || typeof now !== "object" || before === null || now === null) return null;
  const names = Object.keys(before);
  if (Array.isArray(before) !== Array.isArray(now) || names.join("\n") !== Object.keys(now).join("\n")) return null;
  const part = (whole: object, name: string) => (whole as Record<string, unknown>)[name];
  const differing = names.filter((name) => JSON.stringify(part(before, name)) !== JSON.stringify(part(now, name)));
  const name = differing[0];
  if (name === undefined || differing.length > 1) return null;
  const inside = placeTyped(part(before, name), part(now, name));
  return inside === null ? null : `${name}/${inside}`;
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
