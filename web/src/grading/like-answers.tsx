import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { amount, percent } from "../ui/words";
import type { At } from "./sequence";
import type { Turn } from "./types";

type Props = { sittingId: number; turn: Turn; at: At; onGo?: (number: number) => void };

/** The nearest answers that have a mark, beside the one that is marked; none of their marks is put in by itself. */
export function LikeAnswers({ sittingId, turn, at, onGo }: Props) {
  const found = useQuery({
    queryKey: ["like", sittingId, turn, at.item, at.number],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/{number}/like", {
          params: { path: { sitting_id: sittingId, ...at }, query: { turn } },
        }),
      ),
    // Marks that are given meanwhile are among them the next time.
    staleTime: 5_000,
  });
  const { nearest = [], agree = null } = found.data ?? {};
  if (nearest.length === 0) return null;
  return (
    <section aria-label={t`Like this one`} className="mt-4 border-t border-hairline pt-2 text-sm">
      <h2 className="text-xs font-semibold tracking-[0.09em] text-graphite uppercase">{t`Like this one`}</h2>
      {nearest.map((one) => (
        <div key={one.number} className="border-b border-hairline py-1.5">
          <p className="flex items-baseline gap-3">
            <span className="text-graphite">
              {onGo ? (
                <Button variant="quiet" onClick={() => onGo(one.number)}>{t`No. ${one.number}`}</Button>
              ) : (
                t`No. ${one.number}`
              )}
            </span>
            <span dir="auto" className="min-w-0 flex-1 font-serif wrap-anywhere">
              {one.text}
            </span>
            <strong>{amount(one.marks, one.marks % 1 ? 1 : 0)}</strong>
          </p>
          {one.comment && <p className="ps-12 text-graphite">{one.comment}</p>}
        </div>
      ))}
      {agree && (
        <p className="mt-1 text-xs text-graphite">
          {t`Of ${plural(agree.answers, { one: "# marked answer", other: "# marked answers" })} the nearest has the same mark ${percent(agree.same)} of the time, within a point ${percent(agree.within)}; any two have the same ${percent(agree.by_chance)}.`}
        </p>
      )}
    </section>
  );
}
