import { useEffect, useRef } from "react";

const FIRST_WAIT = 500;
const LONGEST_WAIT = 15_000;

/** Calls back whenever the server says that something changed, and after every reconnection, since a nudge may be missed. */
export function useNudges(path: string | null, onNudge: () => void): void {
  const latest = useRef(onNudge);
  latest.current = onNudge;
  useEffect(() => {
    if (!path) return;
    let socket: WebSocket | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let wait = FIRST_WAIT;
    let over = false;
    const connect = () => {
      socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}${path}`);
      socket.onopen = () => {
        wait = FIRST_WAIT;
        latest.current();
      };
      socket.onmessage = () => latest.current();
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
      socket?.close();
    };
  }, [path]);
}
