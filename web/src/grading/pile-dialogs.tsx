import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { ReasonField } from "../ui/reason-field";
import { useSay } from "../ui/undo";
import { amount } from "../ui/words";
import type { Change, Pile } from "./pile-types";
import type { At } from "./sequence";

type Marker = Pile["markers"][number];

type SendBackProps = { open: boolean; pile: Pile; marker: Marker; onClose: () => void; onChange: Change };

/** Asking a marker to look again at what they marked, and why. */
export function SendBackDialog({ open, pile, marker, onClose, onChange }: SendBackProps) {
  const [reason, setReason] = useState("");
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={t`Ask ${marker.name} to look again?`}
      says={plural(marker.marked, {
        one: "The # answer they have marked comes back to them with your words. Its mark counts as it stands until then.",
        other:
          "The # answers they have marked come back to them with your words. Their marks count as they stand until then.",
      })}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onClose();
          onChange(() =>
            read(
              api.POST("/api/v1/piles/{pile_id}/again", {
                params: { path: { pile_id: pile.id } },
                body: { marker: marker.id, items: [], reason },
              }),
            ),
          );
        }}
      >
        <ReasonField value={reason} hint={t`They read it beside each of these answers.`} onChange={setReason} />
        <Button type="submit" variant="main" className="mt-3">{t`Send them back`}</Button>
      </form>
    </Dialog>
  );
}

type AgreeProps = { open: boolean; pileId: number; sittingId: number; at: At; onClose: () => void };

/** Using an answer with its mark to see how close the markers of a pile are. */
export function AgreeDialog({ open, pileId, sittingId, at, onClose }: AgreeProps) {
  const client = useQueryClient();
  const say = useSay();
  const [reason, setReason] = useState("");
  const agree = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/piles/{pile_id}/agreed", {
          params: { path: { pile_id: pileId } },
          body: { sitting: sittingId, ...at, reason },
        }),
      ),
    onSuccess: async () => {
      await changed(client, "pile");
      say(t`No. ${at.number} is an agreed answer. Each marker meets it among their own.`);
      onClose();
    },
  });
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={t`Use as an agreed answer?`}
      says={t`Its mark is the one that the others are compared with. Whoever has it in hand gives it back unmarked.`}
    >
      <Problem error={agree.error} />
      <form
        onSubmit={(event) => {
          event.preventDefault();
          agree.mutate();
        }}
      >
        <ReasonField value={reason} hint={t`Why it has this mark, for those who agreed on it.`} onChange={setReason} />
        <Button type="submit" variant="main" className="mt-3" disabled={agree.isPending}>{t`Use it`}</Button>
      </form>
    </Dialog>
  );
}

type EffectProps = {
  pile: Pile;
  marker: Marker;
  line: Marker["close"][number];
  onClose: () => void;
  onChange: Change;
};

/** What taking a marker’s severity out of their marks would do, before it is done. */
export function EffectDialog({ pile, marker, line, onClose, onChange }: EffectProps) {
  const target = { params: { path: { pile_id: pile.id } }, body: { marker: marker.id, item: line.item } };
  const effect = useQuery({
    queryKey: ["pile", pile.id, "effect", marker.id, line.item],
    queryFn: () => read(api.POST("/api/v1/piles/{pile_id}/adjustments/effect", target)),
  });
  const points = amount(Math.abs(line.proposed ?? 0), 2);
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Adjust the marks of ${marker.name}?`}
      says={
        (line.proposed ?? 0) > 0
          ? t`On ${line.checks} agreed answers to question ${line.number} they gave less than was agreed. ${points} points are added to each of their marks.`
          : t`On ${line.checks} agreed answers to question ${line.number} they gave more than was agreed. ${points} points are taken off each of their marks.`
      }
    >
      <Problem error={effect.error} />
      {effect.data && (
        <p className="mb-3">
          {t`${effect.data.answers} of the ${effect.data.of} answers they have marked change, by ${amount(effect.data.mean_change, 2)} marks on average and ${amount(effect.data.largest_change, 2)} at most.`}
        </p>
      )}
      <p className="mb-4 text-sm text-graphite">{t`The measured severity is drawn towards none by how uncertain it is. No marks, full marks and agreed answers stay. Students read beside the question that their mark was adjusted. It stands in the sitting’s record and can be taken back.`}</p>
      <Button
        variant="main"
        disabled={!effect.data}
        onClick={() => {
          onClose();
          onChange(() => read(api.POST("/api/v1/piles/{pile_id}/adjustments", target)));
        }}
      >{t`Adjust them`}</Button>
    </Dialog>
  );
}
