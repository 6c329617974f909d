import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, Refused, read, type Schemas } from "../../api/client";
import { useNudges } from "../../api/nudges";
import { type Change, inverse, joined, overlaid } from "./grid";

const AGAIN = 3_000;
const MOST = 200;

type Step = { change: Change; back: Change };

/**
 * The marks of a sitting, changed at once on screen and kept in the background, in order. What could not be sent yet
 * stays in this browser, also when the page is closed.
 */
export function useMarks(sittingId: number) {
  const client = useQueryClient();
  const key = useMemo(() => ["marks", sittingId], [sittingId]);
  const path = useMemo(() => ({ path: { sitting_id: sittingId } }), [sittingId]);
  const store = `verso.marks.${sittingId}`;
  const page = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/sittings/{sitting_id}/marks", { params: path })),
  });
  useNudges(`/ws/sittings/${sittingId}`, () => client.invalidateQueries({ queryKey: key }));
  const [waiting, setWaiting] = useState<Change[]>(() => load(store));
  const [past, setPast] = useState<Step[]>([]);
  const [future, setFuture] = useState<Step[]>([]);
  const [error, setError] = useState<unknown>(null);
  const [offline, setOffline] = useState(false);
  const [keptAt, setKeptAt] = useState<Date | null>(null);
  const live = useRef({ waiting, busy: false });

  const settle = useCallback(
    (changes: Change[]) => {
      live.current.waiting = changes;
      setWaiting(changes);
      if (changes.length > 0) localStorage.setItem(store, JSON.stringify(changes));
      else localStorage.removeItem(store);
    },
    [store],
  );
  const send = useCallback(async () => {
    const now = live.current;
    if (now.busy || now.waiting.length === 0) return;
    now.busy = true;
    const sent = now.waiting;
    let again = 0;
    try {
      const fresh = await read(
        api.PUT("/api/sittings/{sitting_id}/marks", { params: path, body: joined(sent) as Schemas["MarksIn"] }),
      );
      await client.cancelQueries({ queryKey: key });
      client.setQueryData(key, fresh);
      setKeptAt(new Date());
      setError(null);
      setOffline(false);
      settle(now.waiting.slice(sent.length));
      for (const other of ["sittings", "desk", "findings"]) client.invalidateQueries({ queryKey: [other] });
    } catch (problem) {
      const refused = problem instanceof Refused && problem.status >= 400 && problem.status < 500;
      // What the server refuses would be refused again; what did not reach it waits.
      if (refused && problem.status !== 401) settle(now.waiting.slice(sent.length));
      else again = AGAIN;
      setOffline(!refused);
      if (refused) setError(problem);
    } finally {
      now.busy = false;
    }
    if (now.waiting.length > 0) setTimeout(send, again);
  }, [client, key, path, settle]);
  useEffect(() => void send(), [send]);

  const rows = useMemo(() => overlaid(page.data?.rows ?? [], waiting), [page.data, waiting]);
  const put = (change: Change) => {
    settle([...live.current.waiting, change]);
    void send();
  };
  const change = (made: Change) => {
    if (made.marks.length === 0 && made.presence.length === 0) return;
    setPast((steps) => [...steps, { change: made, back: inverse(made, rows) }].slice(-MOST));
    setFuture([]);
    put(made);
  };
  const step = (from: Step[], side: "back" | "change") => {
    const last = from.at(-1);
    if (!last) return;
    setPast((steps) => (side === "back" ? steps.slice(0, -1) : [...steps, last]));
    setFuture((steps) => (side === "back" ? [...steps, last] : steps.slice(0, -1)));
    put(last[side]);
  };
  return {
    page: page.data,
    problem: page.error,
    rows,
    change,
    undo: past.length > 0 ? () => step(past, "back") : null,
    redo: future.length > 0 ? () => step(future, "change") : null,
    keeping: { waiting: waiting.length, offline, error, at: keptAt },
    reread: (fresh: Schemas["MarksPage"]) => client.setQueryData(key, fresh),
  };
}

function load(store: string): Change[] {
  try {
    return JSON.parse(localStorage.getItem(store) ?? "[]") as Change[];
  } catch {
    return [];
  }
}
