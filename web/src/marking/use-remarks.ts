import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import type { At } from "./sequence";
import { type AnswerPage, answerKey, type Turn } from "./use-marking";

export type Remark = Schemas["RemarkLine"];
export type Place = Remark["place"];
export type Area = Extract<Place, { kind: "area" }>;

/** Highlights and notes on one answer. */
export function useRemarks(sittingId: number, turn: Turn, at: At) {
  const client = useQueryClient();
  const path = { sitting_id: sittingId, item: at.item, number: at.number };
  const change = useMutation({
    mutationFn: (make: () => Promise<Remark[]>) => make(),
    onSuccess: (remarks) =>
      client.setQueryData<AnswerPage>(answerKey(sittingId, turn, at), (page) => page && { ...page, remarks }),
  });
  return {
    error: change.error,
    make: (place: Place, text: string) =>
      change.mutate(() =>
        read(
          api.POST("/api/sittings/{sitting_id}/marking/{item}/{number}/remarks", {
            params: { path },
            body: { place, text, turn },
          }),
        ),
      ),
    takeBack: (remark_id: number) =>
      change.mutate(() =>
        read(
          api.DELETE("/api/sittings/{sitting_id}/marking/{item}/{number}/remarks/{remark_id}", {
            params: { path: { ...path, remark_id }, query: { turn } },
          }),
        ),
      ),
  };
}

export type Remarks = ReturnType<typeof useRemarks>;
