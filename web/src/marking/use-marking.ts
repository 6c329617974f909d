import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { type At, type Order, sequence } from "./sequence";

export type MarkingPage = Schemas["MarkingPage"];
export type MarkingItem = Schemas["MarkingItem"];
export type AnswerPage = Schemas["AnswerPage"];
/** Which reading of the answers: the first, the second, or what is to be agreed on. */
export type Turn = MarkingPage["turn"];

const AHEAD = 3;

/** Where the marker is in a sitting, and the ways through it. */
export function useMarking(sittingId: number, turn: Turn) {
  const client = useQueryClient();
  const path = { sitting_id: sittingId };
  const key = pageKey(sittingId, turn);
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/sittings/{sitting_id}/marking", { params: { path, query: { turn } } })),
  });
  const page = found.data;
  const [moved, setMoved] = useState<Partial<At & { byStudent: boolean; order: Order }>>({});
  const at = page && { item: moved.item ?? page.item, number: moved.number ?? page.number };
  const byStudent = moved.byStudent ?? page?.by_student ?? false;
  const order = moved.order ?? page?.order ?? "number";
  const items = page?.items.filter((item) => !item.waived).map((item) => item.ref) ?? [];
  const all = page ? sequence(page.entries, items, byStudent, order, sittingId) : [];
  const here = at ? all.findIndex((one) => one.item === at.item && one.number === at.number) : -1;

  const ask = (one: At) => ({
    queryKey: answerKey(sittingId, turn, one),
    queryFn: () =>
      read(
        api.GET("/api/sittings/{sitting_id}/marking/{item}/{number}", {
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
    // Whoever leaves comes back to this place; that it could not be noted is no reason to stop anybody.
    api
      .PUT("/api/sittings/{sitting_id}/marking/at", {
        params: { path },
        body: { item: next.item, number: next.number, by_student: next.byStudent, order: next.order },
      })
      .catch(() => {});
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
    answer: answer.data,
    answerProblem: answer.error,
    go,
    waive: (item: string, waived: boolean) =>
      change.mutate(() =>
        read(
          api.PUT("/api/sittings/{sitting_id}/marking/{item}/waived", {
            params: { path: { ...path, item } },
            body: { waived },
          }),
        ),
      ),
    hideNames: (hidden: boolean) =>
      change.mutate(() =>
        read(api.PUT("/api/sittings/{sitting_id}/marking/names", { params: { path }, body: { hidden } })),
      ),
  };
}

export const pageKey = (sittingId: number, turn: Turn) => ["marking", sittingId, turn];
export const answerKey = (sittingId: number, turn: Turn, at: At) => ["answer", sittingId, turn, at.item, at.number];
