import { t } from "@lingui/core/macro";
import { useCallback, useMemo, useState } from "react";
import type { Schemas } from "../api/client";
import { newId } from "../api/new-id";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import type { Place } from "../ui/ink";
import type { At } from "./sequence";
import type { AnswerPage, RemarksToSend, Turn } from "./types";

type Line = Schemas["RemarkLine"];
/** One that the server has, or one that is in this browser and on its way. */
export type Remark = Pick<Line, "key" | "place" | "text" | "criterion" | "by" | "mine"> & { sent: boolean };
export type ToMake = Schemas["RemarkToMake"];
type Step = { added: ToMake[]; gone: Remark[] };

/** Highlights, notes and what a pen drew on one answer: shown at once, sent when it can be, taken back step by step. */
export function useRemarks(sittingId: number, turn: Turn, at: At, answer: AnswerPage) {
  const { remarks: known, work } = answer;
  const outbox = useOutbox();
  const state = useOutboxState();
  const slot = `${sittingId} ${turn} ${at.item} ${at.number}`;
  const [steps, setSteps] = useState<Step[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what waits is the outbox's; its state changes with it
  const remarks = useMemo((): Remark[] => {
    const waiting = outbox.of<RemarksToSend>("remarks").filter((entry) => entry.slot === slot);
    const gone = new Set(waiting.flatMap(({ body }) => [...body.gone, ...body.added.map((one) => one.replaces)]));
    const there = known.filter((one) => !gone.has(one.key)).map((one) => ({ ...one, sent: true }));
    const have = new Set(there.map((one) => one.key));
    const added = waiting
      .flatMap(({ body }) => body.added)
      .filter((one) => !gone.has(one.key) && !have.has(one.key))
      .map(({ key, place, text = "", criterion = "" }) => ({
        key,
        place: place as Place,
        text,
        criterion,
        by: "",
        mine: true,
        sent: false,
      }));
    return [...there, ...added];
  }, [known, state, slot, outbox]);
  const put = useCallback(
    (added: ToMake[], gone: string[]) =>
      outbox.put("remarks", slot, t`what you put on no. ${at.number}`, {
        sitting: sittingId,
        turn,
        item: at.item,
        number: at.number,
        added,
        gone,
        work,
      } satisfies RemarksToSend),
    [outbox, slot, sittingId, turn, at.item, at.number, work],
  );
  const change = useCallback(
    (added: Omit<ToMake, "key">[], gone: Remark[] = []) => {
      const keyed = added.map((one) => ({ ...one, key: newId() }));
      setSteps((before) => [...before, { added: keyed, gone }]);
      put(
        keyed,
        gone.map((one) => one.key),
      );
    },
    [put],
  );
  return {
    remarks,
    make: (place: Place, text: string, criterion = "") => change([{ place, text, criterion }]),
    /** In its place another one: moved, reworded, or of another criterion. */
    replace: (remark: Remark, by: Partial<Pick<Remark, "place" | "text" | "criterion">>) => {
      const { place, text, criterion } = { ...remark, ...by };
      change([{ place, text, criterion, replaces: remark.key }], [remark]);
    },
    takeBack: (some: Remark[]) => change([], some),
    /** The last thing done here, undone; what was taken out stands again. */
    undo: () => {
      const last = steps.at(-1);
      if (!last) return;
      setSteps(steps.slice(0, -1));
      const again = last.gone.map(({ place, text, criterion }) => ({ key: newId(), place, text, criterion }));
      put(
        again,
        last.added.map((one) => one.key),
      );
      // A step before this one may speak of what stands under another key now.
      const keys = new Map(last.gone.map((one, index) => [one.key, again[index]?.key ?? one.key]));
      const renamed = <T extends { key: string }>(one: T): T => ({ ...one, key: keys.get(one.key) ?? one.key });
      setSteps((before) => before.map((step) => ({ added: step.added.map(renamed), gone: step.gone.map(renamed) })));
    },
    canUndo: steps.length > 0,
  };
}

export type Remarks = ReturnType<typeof useRemarks>;
