import { useCallback, useEffect, useRef } from "react";
import { newId } from "../api/new-id";
import { type Away, type Spent, sendSigns } from "./api";
import type { Outbox } from "./outbox";

/** Seconds away that are no leaving: a page that is loaded anew, a notice that is waved off. */
const NOT_AWAY = 3;

/** Tells which question is before the student, how long others were in sight, and when they left the page; what cannot
 * be sent waits. */
export function useSigns(seat: number, at: string, outbox: Outbox) {
  const place = useRef(at);
  place.current = at;
  const key = `verso.away.${seat}`;
  const tell = useCallback(async () => {
    const { gone, waiting, spent } = stored(key);
    if (gone !== null && document.visibilityState === "visible") {
      const seconds = Math.round((Date.now() - gone) / 1000);
      if (seconds >= NOT_AWAY) waiting.push({ client_id: newId(), left_at: new Date(gone).toISOString(), seconds });
      store(key, { gone: null, waiting, spent });
    }
    // What was answered before going on is there before it is said that one went on.
    await outbox.flush();
    try {
      await sendSigns({ at: place.current, away: waiting, spent });
      const since = stored(key);
      store(key, { ...since, waiting: without(since.waiting, waiting), spent: without(since.spent, spent) });
    } catch {
      // Without a connection it goes out with the next one.
    }
  }, [key, outbox]);
  useEffect(() => {
    let began: number | null = document.visibilityState === "hidden" ? null : Date.now();
    const rest = () => {
      const seconds = began === null ? 0 : (Date.now() - began) / 1000;
      began = null;
      const now = stored(key);
      if (at && seconds >= 0.5)
        store(key, { ...now, spent: [...now.spent, { client_id: newId(), item: at, seconds }].slice(-MOST) });
    };
    const onChange = () => {
      if (document.visibilityState === "hidden") {
        rest();
        store(key, { ...stored(key), gone: Date.now() });
      } else {
        began = Date.now();
        void tell();
      }
    };
    // Told anew whenever another question is before the student; a page that goes takes its time down first.
    void tell();
    document.addEventListener("visibilitychange", onChange);
    addEventListener("pagehide", rest);
    return () => {
      rest();
      document.removeEventListener("visibilitychange", onChange);
      removeEventListener("pagehide", rest);
    };
  }, [key, tell, at]);
  // What was in sight to the last is told when the test is handed in.
  useEffect(() => () => void tell(), [tell]);
}

/** As many stretches as the server takes at once. */
const MOST = 200;

type Stored = { gone: number | null; waiting: Away[]; spent: Spent[] };

const without = <One extends { client_id: string }>(all: One[], sent: One[]) =>
  all.filter((one) => !sent.some((other) => other.client_id === one.client_id));

function stored(key: string): Stored {
  return { gone: null, waiting: [], spent: [], ...JSON.parse(localStorage.getItem(key) ?? "{}") };
}

function store(key: string, value: Stored) {
  if (value.gone === null && value.waiting.length + value.spent.length === 0) localStorage.removeItem(key);
  else localStorage.setItem(key, JSON.stringify(value));
}
