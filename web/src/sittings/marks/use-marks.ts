import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { api, read, type Schemas } from "../../api/client";
import { useNudges } from "../../api/nudges";
import { type Change, inverse, overlaid } from "./grid";
import { MarksQueue } from "./queue";

const MOST = 200;

type Step = { change: Change; back: Change };

/** The marks of a sitting, changed at once on screen and kept in the background, with every step undone by a key. */
export function useMarks(sittingId: number) {
  const client = useQueryClient();
  const key = useMemo(() => ["marks", sittingId], [sittingId]);
  const path = useMemo(() => ({ path: { sitting_id: sittingId } }), [sittingId]);
  const page = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/sittings/{sitting_id}/marks", { params: path })),
  });
  useNudges(`/ws/sittings/${sittingId}`, () => client.invalidateQueries({ queryKey: key }));
  const [past, setPast] = useState<Step[]>([]);
  const [future, setFuture] = useState<Step[]>([]);
  const [, redraw] = useState(0);
  const queue = useMemo(
    () =>
      new MarksQueue<Schemas["MarksPage"]>(
        `verso.marks.${sittingId}`,
        async (change) => {
          const fresh = await read(api.PUT("/api/sittings/{sitting_id}/marks", { params: path, body: change }));
          // An answer that was asked for earlier would show what stood before.
          await client.cancelQueries({ queryKey: key });
          return fresh;
        },
        (fresh) => {
          client.setQueryData(key, fresh);
          for (const other of ["sittings", "desk", "findings"]) client.invalidateQueries({ queryKey: [other] });
        },
        () => redraw((n) => n + 1),
      ),
    [client, key, path, sittingId],
  );
  useEffect(() => {
    void queue.flush();
    return () => queue.stop();
  }, [queue]);

  const { waiting } = queue;
  const rows = useMemo(() => overlaid(page.data?.rows ?? [], waiting), [page.data, waiting]);
  const change = (made: Change) => {
    if (made.marks.length === 0 && made.presence.length === 0) return;
    setPast((steps) => [...steps, { change: made, back: inverse(made, rows) }].slice(-MOST));
    setFuture([]);
    queue.add(made);
  };
  const step = (from: Step[], side: "back" | "change") => {
    const last = from.at(-1);
    if (!last) return;
    setPast((steps) => (side === "back" ? steps.slice(0, -1) : [...steps, last]));
    setFuture((steps) => (side === "back" ? [...steps, last] : steps.slice(0, -1)));
    queue.add(last[side]);
  };
  return {
    page: page.data,
    problem: page.error,
    rows,
    change,
    undo: past.length > 0 ? () => step(past, "back") : null,
    redo: future.length > 0 ? () => step(future, "change") : null,
    keeping: { waiting: waiting.length, offline: queue.offline, error: queue.error, at: queue.keptAt },
    reread: (fresh: Schemas["MarksPage"]) => client.setQueryData(key, fresh),
  };
}
