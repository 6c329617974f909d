import { useCallback, useEffect, useRef } from "react";
import { type Away, sendSigns } from "./api";
import { newId } from "./new-id";
import type { Outbox } from "./outbox";

/** Seconds away that are no leaving: a page that is loaded anew, a notice that is waved off. */
const NOT_AWAY = 3;

/** Tells which question is before the student, and when they left the page; what cannot be sent waits. */
export function useSigns(seat: number, at: string, outbox: Outbox) {
  const place = useRef(at);
  place.current = at;
  const key = `verso.away.${seat}`;
  const tell = useCallback(async () => {
    const { gone, waiting } = stored(key);
    if (gone !== null && document.visibilityState === "visible") {
      const seconds = Math.round((Date.now() - gone) / 1000);
      if (seconds >= NOT_AWAY) waiting.push({ client_id: newId(), left_at: new Date(gone).toISOString(), seconds });
      store(key, { gone: null, waiting });
    }
    // What was answered before going on is there before it is said that one went on.
    await outbox.flush();
    try {
      await sendSigns(place.current, waiting);
      const since = stored(key);
      store(key, {
        ...since,
        waiting: since.waiting.filter((one) => !waiting.some((w) => w.client_id === one.client_id)),
      });
    } catch {
      // Without a connection it goes out with the next one.
    }
  }, [key, outbox]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: told anew whenever another question is before the student
  useEffect(() => void tell(), [tell, at]);
  useEffect(() => {
    const onChange = () => {
      if (document.visibilityState === "hidden") store(key, { ...stored(key), gone: Date.now() });
      else void tell();
    };
    document.addEventListener("visibilitychange", onChange);
    return () => document.removeEventListener("visibilitychange", onChange);
  }, [key, tell]);
}

type Stored = { gone: number | null; waiting: Away[] };

function stored(key: string): Stored {
  return JSON.parse(localStorage.getItem(key) ?? '{"gone":null,"waiting":[]}');
}

function store(key: string, value: Stored) {
  if (value.gone === null && value.waiting.length === 0) localStorage.removeItem(key);
  else localStorage.setItem(key, JSON.stringify(value));
}
