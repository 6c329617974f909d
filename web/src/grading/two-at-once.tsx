import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";
import { amount, timeOf } from "../ui/words";
import { sum } from "./points";
import type { At } from "./sequence";
import type { AnswerPage, Turn } from "./types";
import { answerKey, pageKey } from "./use-marking";

type Mark = AnswerPage["beside"][number];
type Props = { sittingId: number; turn: Turn; at: At; standing: Mark; beside: Mark[]; onChosen: () => void };

/** Two who marked at the same time: both marks, and a person who chooses. */
export function TwoAtOnce({ sittingId, turn, at, standing, beside, onChosen }: Props) {
  const client = useQueryClient();
  const choose = useMutation({
    mutationFn: (mark: Mark) =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/marking/{item}/{number}/choice", {
          params: { path: { sitting_id: sittingId, ...at } },
          body: { mark: mark.id, turn },
        }),
      ),
    onSettled: async () => {
      await client.invalidateQueries({ queryKey: answerKey(sittingId, turn, at) });
      onChosen();
      client.invalidateQueries({ queryKey: pageKey(sittingId, turn) });
      for (const other of ["marking", "findings", "results", "desk"]) client.invalidateQueries({ queryKey: [other] });
    },
  });
  return (
    <section
      role="alert"
      aria-label={t`Two marks at once`}
      className="mb-4 border-s-2 border-ochre bg-ochre-wash px-3 py-2"
    >
      <p className="mb-1 font-semibold">{t`Two of you marked this at the same time. Which mark counts?`}</p>
      {[standing, ...beside].map((mark, place) => (
        <p key={mark.id} className="flex flex-wrap items-baseline gap-x-3 border-t border-hairline py-1.5">
          <span className="min-w-0 flex-1 wrap-anywhere">
            <Trans>
              <strong>{amount(sum(mark.points), sum(mark.points) % 1 ? 1 : 0)}</strong> by{" "}
              {mark.mine ? t`you` : mark.by}, {timeOf(mark.at)}
            </Trans>
            {place === 0 && <span className="text-graphite"> {t`(counts until you choose)`}</span>}
            {mark.comment && <span className="block text-sm text-graphite">“{mark.comment}”</span>}
          </span>
          <Button disabled={choose.isPending} onClick={() => choose.mutate(mark)}>
            {mark.mine ? t`Yours counts` : t`${mark.by}’s mark counts`}
          </Button>
        </p>
      ))}
      <Problem error={choose.error} />
    </section>
  );
}

/** A colleague marked this while one was at it, and one's own is not kept yet. */
export function Meanwhile({ mark, onLeave }: { mark: Mark; onLeave: () => void }) {
  return (
    <section role="alert" className="mb-4 border-s-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
      {t`${mark.by} gave ${amount(sum(mark.points), sum(mark.points) % 1 ? 1 : 0)} at ${timeOf(mark.at)}, while you were at it.`}
      {mark.comment && <> {t`They say: “${mark.comment}”`}</>}{" "}
      {t`Keep yours and both stand here, for one of you to choose.`}{" "}
      <Button variant="quiet" onClick={onLeave}>
        {t`leave it at ${mark.by}’s mark`}
      </Button>
    </section>
  );
}
