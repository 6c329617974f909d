import { t } from "@lingui/core/macro";
import { useRef, useState } from "react";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { markSlot } from "./senders";
import type { At } from "./sequence";
import type { AnswerPage, MarkingItem, MarkToSend, Turn } from "./types";

const PAUSE = 500;

/** The mark of one answer while it is given: in this browser's store with every key, on the server a moment later. */
export function useMark(sittingId: number, turn: Turn, item: MarkingItem, at: At, answer: AnswerPage) {
  const outbox = useOutbox();
  useOutboxState();
  const slot = markSlot(sittingId, turn, at);
  const waiting = outbox.newest<MarkToSend>("mark", slot);
  const [mark, setMark] = useState(() => fromStore(waiting?.body, answer));
  // The mark that this marker has had before their eyes as that of the answer. No reply to a draft changes it.
  const [seen, setSeen] = useState(waiting ? (waiting.body.mark.seen ?? null) : (answer.mark?.id ?? null));
  const touched = useRef(waiting !== undefined);
  const { points, comment } = mark;
  const complete = item.rubric.criteria.every((criterion) => points[criterion.id] !== undefined);
  const standing = answer.mark?.state === "kept" ? answer.mark : null;
  const others = standing !== null && !standing.mine;
  // A colleague's mark that came while one was at it; while nothing was typed, the page simply shows it.
  if (answer.mark && answer.mark.id !== seen && !touched.current) {
    setSeen(answer.mark.id);
    setMark(fromStore(undefined, answer));
  }
  const meanwhile = others && standing.id !== seen ? standing : null;
  const store = (points: Record<string, number>, comment: string, keep: boolean) => {
    touched.current = true;
    setMark({ points, comment });
    const whole = item.rubric.criteria.every((criterion) => points[criterion.id] !== undefined);
    // What was kept once stays kept while its giver changes it. What a colleague gave changes only when one says so.
    const draft = !keep && !(standing?.mine && whole);
    const body: MarkToSend = {
      sitting: sittingId,
      ...at,
      mark: { points, comment, draft, seen, turn, work: answer.work },
    };
    outbox.put("mark", slot, t`question ${item.number}, no. ${at.number}`, body, {
      pause: keep ? 0 : PAUSE,
      parked: draft && others,
    });
  };
  return {
    points,
    comment,
    complete,
    meanwhile,
    /** Whether a change of a colleague's mark waits for its marker's word. */
    parked: waiting?.parked ?? false,
    refusal: waiting?.refusal ?? null,
    total: item.rubric.criteria.reduce((sum, criterion) => sum + (points[criterion.id] ?? 0), 0),
    set: (criterion: string, value: number) => store({ ...points, [criterion]: value }, comment, false),
    unset: (criterion: string) => {
      const { [criterion]: _, ...rest } = points;
      store(rest, comment, false);
    },
    take: (given: Record<string, number>, words: string) => store(given, words, false),
    say: (text: string) => store(points, text, false),
    keep: () => store(points, comment, true),
    /** Give up what one has typed, for what stands. */
    leave: () => {
      outbox.drop("mark", slot);
      touched.current = false;
      setSeen(answer.mark?.id ?? null);
      setMark(fromStore(undefined, answer));
    },
  };
}

const fromStore = (waiting: MarkToSend | undefined, answer: AnswerPage) => ({
  points: waiting?.mark.points ?? answer.mark?.points ?? {},
  comment: waiting?.mark.comment ?? answer.mark?.comment ?? "",
});
