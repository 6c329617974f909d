import { useEffect, useRef } from "react";

const FIRST_WAIT = 500;
const LONGEST_WAIT = 15_000;
const AT_MOST_EVERY = 100;

type OnNudge = (shown?: unknown) => void;

/**
 * Calls back whenever the server says that something changed, and after every reconnection, since a nudge may be missed.
 * Many nudges at once are one call now and one at their end. What is shown to everybody may come along with a nudge.
 */
export function useNudges(path: string | null, onNudge: OnNudge, atMostEvery = AT_MOST_EVERY): void {
  const latest = useRef(onNudge);
  latest.current = onNudge;
  useEffect(
    () => (path ? listen(path, (...shown) => latest.current(...shown), atMostEvery) : undefined),
    [path, atMostEvery],
  );
}

/** The same outside a component; answers with how to stop. */
export function listen(path: string, onNudge: OnNudge, atMostEvery = AT_MOST_EVERY): () => void {
  let socket: WebSocket | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let trailing: ReturnType<typeof setTimeout> | undefined;
  let wait = FIRST_WAIT;
  let over = false;
  let last = Number.NEGATIVE_INFINITY;
  const nudge = () => {
    clearTimeout(trailing);
    const rest = last + atMostEvery - Date.now();
    if (rest > 0) trailing = setTimeout(nudge, rest);
    else {
      last = Date.now();
      onNudge();
    }
  };
  const connect = () => {
    socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}${path}`);
    socket.onopen = () => {
      wait = FIRST_WAIT;
      nudge();
    };
    socket.onmessage = (event) => {
      const { shown } = JSON.parse(String(event.data)) as { shown?: unknown };
      if (shown) onNudge(shown);
      else nudge();
    };
    socket.onclose = () => {
      if (over) return;
      timer = setTimeout(connect, wait);
      wait = Math.min(wait * 2, LONGEST_WAIT);
    };
  };
  connect();
  return () => {
    over = true;
    clearTimeout(timer);
    clearTimeout(trailing);
    socket?.close();
  };
}
