import { t } from "@lingui/core/macro";
import { useMutation, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, read } from "../api/client";
import { useNudges } from "../api/nudges";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { type At, type Order, sequence, withUnsent, withUnsentComments } from "./sequence";
import type { BookmarkToSend, MarkingPage, MarkToSend, Turn } from "./types";

const AHEAD = 6;
const LOOK_AT_MOST_EVERY = 2_000;

/** Where the marker is in a sitting, and the ways through it. */
export function useMarking(sittingId: number, turn: Turn, start: Partial<At> = {}) {
  const client = useQueryClient();
  const path = { sitting_id: sittingId };
  const key = pageKey(sittingId, turn);
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/marking", { params: { path, query: { turn } } })),
  });
  const outbox = useOutbox();
  const sending = useOutboxState();
  const unsent = outbox.of<MarkToSend>("mark").filter((entry) => !entry.parked && !entry.refusal);
  const mine = unsent.map((entry) => entry.body).filter((one) => one.sitting === sittingId && one.mark.turn === turn);
  const page = found.data && {
    ...found.data,
    entries: withUnsent(found.data.entries, found.data.items, mine),
    items: found.data.items.map((item) => ({
      ...item,
      comments: withUnsentComments(
        item.comments,
        mine.filter((one) => one.item === item.ref),
      ),
    })),
  };
  const [moved, setMoved] = useState<Partial<At & { byStudent: boolean; order: Order }>>(start);
  // Where one begins is told once: a page that is asked for anew would begin at the next one that waits.
  const began = useRef<MarkingPage | undefined>(undefined);
  // A place that has not reached the server yet, after an outage, is later than the one it knows.
  const left = turn === "first" ? outbox.newest<BookmarkToSend>("bookmark", String(sittingId))?.body.at : undefined;
  began.current ??= page && { ...page, ...left };
  const at = began.current && {
    item: moved.item ?? began.current.item,
    number: moved.number ?? began.current.number,
  };
  const byStudent = moved.byStudent ?? began.current?.by_student ?? false;
  const order = moved.order ?? began.current?.order ?? "number";
  const items = page?.items.filter((item) => !item.waived).map((item) => item.ref) ?? [];
  // Which answers are alike is asked for once somebody wants that order, and holds while it is looked through.
  const likeness = useQueries({
    queries: items.map((item) => ({
      queryKey: ["like order", sittingId, item],
      queryFn: () =>
        read(api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/order", { params: { path: { ...path, item } } })),
      enabled: order === "like",
      staleTime: Number.POSITIVE_INFINITY,
    })),
  });
  const like = Object.fromEntries(items.map((item, at) => [item, likeness[at]?.data ?? []]));
  const all = page ? sequence(page.entries, items, byStudent, order, sittingId, like) : [];
  const here = at ? all.findIndex((one) => one.item === at.item && one.number === at.number) : -1;

  const ask = (one: At) => ({
    queryKey: answerKey(sittingId, turn, one),
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/{number}", {
          params: { path: { ...path, item: one.item, number: one.number }, query: { turn } },
        }),
      ),
    staleTime: 60_000,
  });
  const answer = useQuery({ ...ask(at ?? { item: "", number: 0 }), enabled: here >= 0 });
  // The next ones are there before they are asked for.
  const ahead = all.slice(here + 1, here + 1 + AHEAD);
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the place changes, and not at every drawing
  useEffect(() => {
    for (const one of ahead) void client.prefetchQuery(ask(one));
  }, [at?.item, at?.number, byStudent, order]);

  // Somebody marked, or moved to another answer: the others see it a moment later.
  useNudges(
    `/ws/sittings/${sittingId}`,
    () => {
      client.invalidateQueries({ queryKey: key });
      client.invalidateQueries({ queryKey: ["markers", sittingId] });
      if (at) client.invalidateQueries({ queryKey: answerKey(sittingId, turn, at) });
      client.invalidateQueries({ queryKey: ["answer", sittingId], refetchType: "none" });
    },
    LOOK_AT_MOST_EVERY,
  );
  // With the connection comes what could not be asked for while it was away.
  const connected = sending.trouble === "none";
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when it comes back
  useEffect(() => {
    if (connected) void client.refetchQueries({ predicate: ({ state }) => state.status === "error" });
  }, [connected]);

  const change = useMutation({
    mutationFn: (make: () => Promise<MarkingPage>) => make(),
    onSuccess: () => {
      client.removeQueries({ queryKey: ["answer", sittingId] });
      for (const other of ["marking", "findings", "desk"]) client.invalidateQueries({ queryKey: [other] });
    },
  });
  const go = (to: Partial<At & { byStudent: boolean; order: Order }>) => {
    const next = { ...at, byStudent, order, ...to };
    setMoved(next);
    if (next.item === undefined || next.number === undefined || turn !== "first") return;
    // Whoever leaves comes back to this place.
    outbox.put("bookmark", String(sittingId), t`a place`, {
      sitting: sittingId,
      at: { item: next.item, number: next.number, by_student: next.byStudent, order: next.order },
    });
  };
  return {
    page,
    problem: found.error,
    error: change.error,
    at: here >= 0 ? (all[here] as At) : null,
    all,
    here,
    byStudent,
    order,
    like,
    answer: answer.data,
    answerProblem: answer.error,
    answerAway: answer.isPaused,
    go,
    waive: (item: string, waived: boolean) =>
      change.mutate(() =>
        read(
          api.PUT("/api/v1/sittings/{sitting_id}/marking/{item}/waived", {
            params: { path: { ...path, item } },
            body: { waived },
          }),
        ),
      ),
    hideNames: (hidden: boolean) =>
      change.mutate(() =>
        read(api.PUT("/api/v1/sittings/{sitting_id}/marking/names", { params: { path }, body: { hidden } })),
      ),
  };
}

export const pageKey = (sittingId: number, turn: Turn) => ["marking", sittingId, turn];
export const answerKey = (sittingId: number, turn: Turn, at: At) => ["answer", sittingId, turn, at.item, at.number];
