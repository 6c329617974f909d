import { t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import type { At } from "./sequence";
import type { AnswerPage, RemarkToSend, Turn } from "./types";
import { answerKey } from "./use-marking";

export type Remark = Schemas["RemarkLine"];
export type Place = Remark["place"];
export type Area = Extract<Place, { kind: "area" }>;

/** Highlights and notes on one answer. */
export function useRemarks(sittingId: number, turn: Turn, at: At) {
  const client = useQueryClient();
  const outbox = useOutbox();
  useOutboxState();
  const slot = `${sittingId} ${turn} ${at.item} ${at.number}`;
  const path = { sitting_id: sittingId, item: at.item, number: at.number };
  const change = useMutation({
    mutationFn: (make: () => Promise<Remark[]>) => make(),
    onSuccess: (remarks) =>
      client.setQueryData<AnswerPage>(answerKey(sittingId, turn, at), (page) => page && { ...page, remarks }),
  });
  return {
    error: change.error,
    /** Those that are in this browser and on their way. */
    unsent: outbox.of<RemarkToSend>("remark").filter((entry) => entry.slot === slot),
    make: (place: Place, text: string) =>
      outbox.put("remark", slot, t`a note on no. ${at.number}`, { sitting: sittingId, turn, ...at, place, text }),
    takeBack: (remark_id: number) =>
      change.mutate(() =>
        read(
          api.DELETE("/api/v1/sittings/{sitting_id}/marking/{item}/{number}/remarks/{remark_id}", {
            params: { path: { ...path, remark_id }, query: { turn } },
          }),
        ),
      ),
  };
}

export type Remarks = ReturnType<typeof useRemarks>;
