import { useEffect, useRef } from "react";

type Keys = Record<string, () => void>;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest("input, textarea, select, [contenteditable], [role=dialog]");

/** Single-key shortcuts of a screen, quiet while someone types or a dialog is open. */
export function useKeys(keys: Keys): void {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
      const action = latest.current[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);
}

type Way = "up" | "down" | "left" | "right";

/** The arrow keys of a screen. */
export const arrows = (ways: Partial<Record<Way, () => void>>): Keys =>
  Object.fromEntries(
    Object.entries(ways).map(([way, go]) => [`Arrow${way.charAt(0).toUpperCase()}${way.slice(1)}`, go]),
  );
