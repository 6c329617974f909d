import { t } from "@lingui/core/macro";
import { clock } from "../ui/countdown";
import { ProgressBar } from "../ui/progress-bar";
import type { Wall } from "../wall/wall-view";
import { useSince } from "./use-since";

/** How many answers are in, large, and for how long the question has been on; of those who are here, or of `expected`. */
export function Inside({ wall, expected = wall.here }: { wall: Wall; expected?: number }) {
  const of = Math.max(expected, wall.inside);
  const since = useSince(wall.collecting ? wall.asked_at : null, wall.now);
  return (
    <div className="mb-4 flex items-center gap-4">
      <span className="font-serif text-3xl font-semibold">{wall.inside}</span>
      <span className="shrink-0 text-sm leading-tight text-graphite">
        {t`of ${of} in`}
        <br />
        {wall.collecting ? t`${clock(since)} since asked` : t`collecting has stopped`}
      </span>
      <ProgressBar done={wall.inside} of={of} label={t`answers that are in`} />
    </div>
  );
}
