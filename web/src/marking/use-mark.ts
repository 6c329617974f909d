import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import type { At } from "./sequence";
import { type AnswerPage, answerKey, type MarkingItem, type MarkingPage, pageKey, type Turn } from "./use-marking";

type Kept = Schemas["Kept"];
const PAUSE = 500;

/** The mark of one answer while it is given: kept as a draft as it grows, and for good when its marker says so. */
export function useMark(
  sittingId: number,
  turn: Turn,
  item: MarkingItem,
  at: At,
  answer: AnswerPage,
  onTrouble: (says: string, at: At) => void,
) {
  const client = useQueryClient();
  const [points, setPoints] = useState<Record<string, number>>(answer.mark?.points ?? {});
  const [comment, setComment] = useState(answer.mark?.comment ?? "");
  const [other, setOther] = useState<Kept["other"]>(null);
  const seen = useRef(answer.mark?.id ?? null);
  const dirty = useRef(false);
  const gone = useRef(false);
  const complete = item.rubric.criteria.every((criterion) => points[criterion.id] !== undefined);
  // What was kept once stays kept while it is changed: a draft takes no kept mark's place.
  const wasKept = answer.mark?.state === "kept";
  const send = useMutation({
    // One after another: the reply to a draft must not come after that to the mark, and look like the last word.
    scope: { id: `mark ${sittingId} ${turn} ${at.item} ${at.number}` },
    mutationFn: (draft: boolean) =>
      read(
        api.PUT("/api/sittings/{sitting_id}/marking/{item}/{number}", {
          params: { path: { sitting_id: sittingId, item: at.item, number: at.number } },
          body: { points, comment, draft, seen: seen.current, turn },
        }),
      ),
    onSuccess: (kept) => {
      setOther(kept.other);
      seen.current = kept.other?.id ?? kept.mark.id;
      if (kept.stands) taken(kept);
      else client.invalidateQueries({ queryKey: answerKey(sittingId, turn, at) });
      if (gone.current && kept.other)
        onTrouble(`${kept.other.by} had marked this meanwhile; yours is kept beside it.`, at);
    },
    onError: (error) => {
      if (gone.current) onTrouble(`A mark was not kept: ${error.message}`, at);
    },
  });
  const taken = (kept: Kept) => {
    client.setQueryData<MarkingPage>(pageKey(sittingId, turn), (page) => page && withEntry(page, at.item, kept));
    client.setQueryData<AnswerPage>(answerKey(sittingId, turn, at), (found) => found && { ...found, mark: kept.mark });
    client.invalidateQueries({ queryKey: ["marking"], exact: true });
    client.invalidateQueries({ queryKey: ["second", sittingId] });
    client.invalidateQueries({ queryKey: ["findings"] });
  };
  const latest = useRef(send.mutate);
  latest.current = send.mutate;
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is typed starts the pause, and nothing else
  useEffect(() => {
    if (!dirty.current) return;
    const timer = setTimeout(() => {
      dirty.current = false;
      latest.current(!(wasKept && complete));
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [points, comment]);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  // Whoever goes on before the pause is over loses nothing.
  useEffect(() => () => void (dirty.current && latest.current(!(wasKept && complete))), [wasKept, complete]);
  return {
    points,
    comment,
    complete,
    other,
    error: send.error,
    total: item.rubric.criteria.reduce((sum, criterion) => sum + (points[criterion.id] ?? 0), 0),
    set: (criterion: string, value: number) => {
      dirty.current = true;
      setPoints((now) => ({ ...now, [criterion]: value }));
    },
    /** Every answer of this student has it beside it. */
    saidOverall: (overall: string) => {
      client.setQueryData<AnswerPage>(answerKey(sittingId, turn, at), (found) => found && { ...found, overall });
      client.invalidateQueries({ queryKey: ["answer", sittingId], refetchType: "none" });
    },
    take: (given: Record<string, number>, words: string) => {
      dirty.current = true;
      setPoints(given);
      setComment(words);
    },
    say: (text: string) => {
      dirty.current = true;
      setComment(text);
    },
    /** Goes out while its marker is at the next answer already. */
    keep: () => {
      dirty.current = false;
      send.mutate(false);
    },
  };
}

function withEntry(page: MarkingPage, item: string, kept: Kept): MarkingPage {
  const entries = (page.entries[item] ?? []).map((one) => (one.number === kept.entry.number ? kept.entry : one));
  const items = page.items.map((one) => (one.ref === item ? { ...one, comments: kept.comments } : one));
  return { ...page, items, may_hide: false, entries: { ...page.entries, [item]: entries } };
}
