import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { newId } from "../api/new-id";
import { useNudges } from "../api/nudges";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { keepRecording } from "./recordings";
import { type EvidenceToSend, type Reading, slotOf, type WatchedToSend, watchKey } from "./sender";

type Student = Schemas["WatchedStudent"];
type Task = Schemas["WatchedTask"];
export type Unsent = { id: string; name: string };

const LOOKS_EVERY = 2_000;
/** Words of a comment come in bursts. */
const PAUSE = 700;

/** Everybody who can be watched, with what was given and has not arrived yet. */
export function useWatching(sittingId: number, turn: Reading) {
  const client = useQueryClient();
  const key = watchKey(sittingId, turn);
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/marking/watching", {
          params: { path: { sitting_id: sittingId }, query: { turn } },
        }),
      ),
  });
  useNudges(`/ws/sittings/${sittingId}`, () => void client.invalidateQueries({ queryKey: key }), LOOKS_EVERY);
  return { page: found.data, problem: found.error };
}

/** What one student shows for one task: their mark, the time it took, and evidence of it. */
export function useWatched(sittingId: number, turn: Reading, student: Student, task: Task) {
  const outbox = useOutbox();
  useOutboxState();
  const place = { sitting: sittingId, seat: student.seat, item: task.ref, turn };
  const slot = slotOf(place);
  const work = student.work[task.ref];
  const unsent = outbox.newest<WatchedToSend>("watched", slot);
  const standing = work?.mark ?? null;
  const points = unsent?.body.mark.points ?? standing?.points ?? {};
  const comment = unsent?.body.mark.comment ?? standing?.comment ?? "";
  const name = t`question ${task.number}, ${student.name}`;
  const whole = (given: Record<string, number>) =>
    task.rubric.criteria.every((criterion) => given[criterion.id] !== undefined);
  const kept = standing?.state === "kept";
  const give = (
    more: Partial<Pick<Schemas["WatchedMarkBody"], "points" | "comment" | "seconds">>,
    keep = false,
    pause = 0,
  ) => {
    const given = more.points ?? points;
    const mark = {
      points: given,
      comment: more.comment ?? comment,
      seconds: more.seconds ?? unsent?.body.mark.seconds ?? null,
      // What was kept once stays kept while its giver changes it.
      draft: !keep && !(kept && standing?.mine && whole(given)) && !(unsent && !unsent.body.mark.draft && whole(given)),
      seen: standing?.id ?? null,
      turn,
    };
    outbox.put<WatchedToSend>("watched", slot, name, { ...place, mark }, { pause });
  };
  return {
    points,
    comment,
    seconds: unsent?.body.mark.seconds ?? work?.seconds ?? null,
    complete: whole(points),
    kept: unsent ? !unsent.body.mark.draft : kept,
    /** A colleague’s mark that stands here. */
    other: standing && !standing.mine && kept ? standing.by : "",
    beside: work?.beside ?? false,
    total: task.rubric.criteria.reduce((sum, criterion) => sum + (points[criterion.id] ?? 0), 0),
    refusal: unsent?.refusal ?? "",
    set: (criterion: string, value: number) => give({ points: { ...points, [criterion]: value } }),
    say: (words: string) => give({ comment: words }, false, PAUSE),
    took: (seconds: number) => give({ seconds }),
    keep: () => give({}, true),
    evidence: work?.evidence ?? [],
    waiting: outbox
      .of<EvidenceToSend>("evidence")
      .filter(({ body }) => slotOf(body) === slot)
      .map(({ body }): Unsent => ({ id: body.recording, name: body.name })),
    keepFile: async (file: Blob, called: string) => {
      const recording = newId();
      await keepRecording(recording, file);
      outbox.put<EvidenceToSend>("evidence", slot, called, { ...place, recording, name: called, bytes: file.size });
    },
  };
}
