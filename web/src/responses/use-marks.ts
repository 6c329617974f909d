import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { useNudges } from "../api/nudges";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { type Change, inverse, overlaid } from "./grid";
import type { MarksToSend } from "./sender";

const MOST = 200;

type Step = { change: Change; back: Change };

/** The marks of a sitting, changed at once on screen and kept in the background, with every step undone by a key. */
export function useMarks(sittingId: number) {
  const client = useQueryClient();
  const key = useMemo(() => ["marks", sittingId], [sittingId]);
  const path = useMemo(() => ({ path: { sitting_id: sittingId } }), [sittingId]);
  const page = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/marks", { params: path })),
  });
  useNudges(`/ws/sittings/${sittingId}`, () => client.invalidateQueries({ queryKey: key }));
  const [past, setPast] = useState<Step[]>([]);
  const [future, setFuture] = useState<Step[]>([]);
  const outbox = useOutbox();
  const { trouble } = useOutboxState();
  const waiting = outbox.of<MarksToSend>("marks").filter((entry) => entry.body.sitting === sittingId);
  const changes = waiting.filter((entry) => !entry.refusal).map((entry) => entry.body.change);
  const queue = {
    add: (change: Change) =>
      outbox.put("marks", String(sittingId), t`marks in the grid`, { sitting: sittingId, change }),
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: a change is told by its id
  const rows = useMemo(
    () => overlaid(page.data?.rows ?? [], changes),
    [page.data, waiting.map((entry) => entry.id).join()],
  );
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
    keeping: {
      waiting: changes.length,
      offline: trouble !== "none",
      refusal: waiting.find((entry) => entry.refusal)?.refusal ?? null,
      at: outbox.arrivedAt("marks"),
    },
    reread: (fresh: Schemas["MarksPage"]) => answered(client, key, fresh),
  };
}
