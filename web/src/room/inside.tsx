import { ProgressBar } from "../ui/progress-bar";
import { clock } from "../wall/time";
import type { Wall } from "../wall/wall-view";
import { useSince } from "./use-since";

/** How many answers are in, large, and for how long the question has been on. */
export function Inside({ wall }: { wall: Wall }) {
  const since = useSince(wall.collecting ? wall.asked_at : null, wall.now);
  return (
    <div className="mb-4 flex items-center gap-4">
      <span className="font-serif text-3xl font-semibold">{wall.inside}</span>
      <span className="shrink-0 text-sm leading-tight text-graphite">
        of {Math.max(wall.here, wall.inside)} in
        <br />
        {wall.collecting ? `${clock(since)} since asked` : "collecting has stopped"}
      </span>
      <ProgressBar done={wall.inside} of={Math.max(wall.here, wall.inside)} label="answers that are in" />
    </div>
  );
}
