import { useEffect, useRef } from "react";

type Keys = Record<string, () => void>;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest("input, textarea, select, [contenteditable], [role=dialog]");

let lastKey = "";
/** What the focus is on since the Tab key brought it there. */
let tabbedTo: EventTarget | null = null;
if (typeof document !== "undefined") {
  const heard = ({ key }: { key: string }) => {
    lastKey = key;
  };
  document.addEventListener("keydown", heard, true);
  document.addEventListener("pointerdown", () => heard({ key: "" }), true);
  document.addEventListener("focusin", ({ target }) => {
    tabbedTo = lastKey === "Tab" ? target : null;
  });
}

/**
 * Whether a key belongs to a button that was reached by keyboard: it takes Enter, and so no shortcut does. One that was
 * clicked keeps the focus too, and there the shortcut is meant.
 */
const pressing = ({ key, target }: KeyboardEvent) =>
  (key === "Enter" || key === " ") &&
  target === tabbedTo &&
  target instanceof HTMLElement &&
  target.matches("button, a[href], summary, audio, video");

const OFF = "verso.keys.off";
/** Whether letters, digits and signs alone do things in this browser (WCAG 2.2, 2.1.4: they can be turned off). */
export const singleKeys = () => localStorage.getItem(OFF) === null;
export const setSingleKeys = (on: boolean) => (on ? localStorage.removeItem(OFF) : localStorage.setItem(OFF, "1"));
const isSign = (key: string) => key.length === 1 && key !== " ";

/** What a key does among some, or nothing: while someone types, in a dialog, and for a button reached by Tab. */
function actionOf(event: KeyboardEvent, keys: Keys): (() => void) | undefined {
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target) || pressing(event)) return;
  if (isSign(event.key) && !singleKeys()) return;
  return keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
}

const onThePage = new Set<{ current: Keys }>();
/** Whether a key is one of the page's, so that a button which has the focus without having been gone to leaves it alone. */
export const isKeyOfThePage = (event: KeyboardEvent) => [...onThePage].some((keys) => actionOf(event, keys.current));

/** Single-key shortcuts of a screen, quiet while someone types or a dialog is open. */
export function useKeys(keys: Keys): void {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const action = actionOf(event, latest.current);
      if (!action) return;
      event.preventDefault();
      action();
    };
    onThePage.add(latest);
    addEventListener("keydown", onKey);
    return () => {
      onThePage.delete(latest);
      removeEventListener("keydown", onKey);
    };
  }, []);
}

type Way = "up" | "down" | "left" | "right";

/** The arrow keys of a screen. */
export const arrows = (ways: Partial<Record<Way, () => void>>): Keys =>
  Object.fromEntries(
    Object.entries(ways).map(([way, go]) => [`Arrow${way.charAt(0).toUpperCase()}${way.slice(1)}`, go]),
  );
