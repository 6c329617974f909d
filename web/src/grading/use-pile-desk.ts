import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { type Entry, withUnsent } from "./sequence";
import type { MarkToSend } from "./types";
import { answerKey } from "./use-marking";

/** As many as are in hand at a time, those among them by which one is checked. */
const AHEAD = 12;
/** What is in hand is kept in hand this often while the desk is open. */
const EVERY = 60_000;

export type PileEntry = Omit<Schemas["PileEntry"], "entry"> & { entry: Entry };
export type PileDesk = Omit<Schemas["PileDesk"], "entries"> & { entries: PileEntry[] };

export const placeOf = (one: PileEntry) => ({ item: one.item, number: one.entry.number });

/** What is in one's hands of a shared pile, and where one is in it. */
export function usePileDesk(pileId: number) {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["pile", "desk", pileId],
    queryFn: () => read(api.POST("/api/v1/piles/{pile_id}/desk", { params: { path: { pile_id: pileId } } })),
    refetchInterval: EVERY,
    // What is in hand may have changed since one left, whatever is still remembered.
    refetchOnMount: "always",
  });
  const outbox = useOutbox();
  useOutboxState();
  const waiting = outbox
    .of<MarkToSend>("mark")
    .filter((one) => !one.parked && !one.refusal && one.body.mark.turn === "pile");
  const desk =
    found.data &&
    withMarks(
      found.data,
      waiting.map((one) => one.body),
    );
  const [at, setAt] = useState<{ item: string; number: number } | null>(null);
  // Everything in hand is marked, and the next ones are to be opened as they come.
  const [ended, setEnded] = useState(false);
  const entries = desk?.entries ?? [];
  const isAt = (one: PileEntry) => one.item === at?.item && one.entry.number === at.number;
  const found_here = entries.findIndex(isAt);
  const next = entries.findIndex((one) => one.entry.state !== "kept");
  const here = found_here >= 0 ? found_here : Math.max(next, 0);
  if (ended && next >= 0 && entries[next]) {
    setEnded(false);
    setAt(placeOf(entries[next]));
  }
  const now = entries[here];
  // The answer before one stays before one, though it has its mark: another would get the next key.
  if (now && found_here < 0) setAt(placeOf(now));
  const ask = (one: PileEntry) => ({
    queryKey: answerKey(one.sitting, "pile", placeOf(one)),
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/{number}", {
          params: { path: { sitting_id: one.sitting, ...placeOf(one) }, query: { turn: "pile" } },
        }),
      ),
    staleTime: 60_000,
  });
  const answer = useQuery({ ...ask(now ?? NOTHING), enabled: now !== undefined });
  // The next ones are there before they are asked for, and when the connection is gone.
  const ahead = entries.slice(here + 1, here + 1 + AHEAD);
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the place changes, and not at every drawing
  useEffect(() => {
    for (const one of ahead) void client.prefetchQuery(ask(one));
  }, [now?.item, now?.entry.number, entries.length]);
  return {
    desk,
    problem: found.error,
    now,
    here,
    answer: answer.data,
    answerProblem: answer.error,
    answerAway: answer.isPaused,
    go: (one: PileEntry | undefined) => one && setAt(placeOf(one)),
    ended,
    /** Whether marks are on their way, or the next answers. */
    coming: waiting.length > 0 || found.isFetching,
    /** To the next one that waits after this one, going round once; where there is none, to the next that comes. */
    goOn: () => {
      const round = [...entries.slice(here + 1), ...entries.slice(0, here)];
      const next = round.find((one) => one.entry.state !== "kept");
      if (next) setAt(placeOf(next));
      else setEnded(true);
    },
  };
}

const NOTHING: PileEntry = {
  sitting: 0,
  item: "",
  name: "",
  class_name: "",
  again: "",
  entry: { number: 0, state: "nothing", marks: null, words: 0, beside: false, again: false },
};

/** A desk with what waits in this browser over it. */
function withMarks(desk: Schemas["PileDesk"], unsent: MarkToSend[]): PileDesk {
  const entries = desk.entries.map((one) => {
    const mine = unsent.filter((mark) => mark.sitting === one.sitting);
    const over = withUnsent(
      { [one.item]: [one.entry] },
      desk.items,
      mine.filter((mark) => mark.item === one.item),
    );
    return { ...one, entry: over[one.item]?.[0] ?? one.entry };
  });
  return { ...desk, entries };
}
