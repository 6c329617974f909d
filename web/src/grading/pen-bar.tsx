import { t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ToggleGroup } from "radix-ui";
import { type ReactNode, useState } from "react";
import { answered } from "../api/changes";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { CompactSelect } from "../ui/compact-select";
import { Problem, TextInput } from "../ui/field";
import { useSay } from "../ui/undo";
import type { Tool } from "./pen";
import type { MarkingItem } from "./types";
import { KEY_OF, type Pen } from "./use-pen";

const SIZES = [100, 150, 220];

const toolName = (tool: Tool): string =>
  ({
    frame: t`Frame and note`,
    pen: t`Pen`,
    broad: t`Highlighter`,
    tick: t`Tick`,
    cross: t`Cross`,
    question: t`Question mark`,
    underline: t`Underline`,
    words: t`Words`,
    stamp: t`Stamp`,
    move: t`Move or take out`,
  })[tool];

const SIGNS: Record<Tool, ReactNode> = {
  frame: "▭",
  pen: "✎",
  broad: <span className="bg-[#d6a63a]/45 px-0.5">ab</span>,
  tick: "✓",
  cross: "✕",
  question: "?",
  underline: <span className="underline decoration-2 underline-offset-2">ab</span>,
  words: "Aa",
  stamp: <span className="border border-current px-0.5 text-xs font-semibold">Aa</span>,
  move: <MoveSign />,
};

/** A sign in its place, with an arrow that leads away from it. */
function MoveSign() {
  return (
    <svg viewBox="0 0 16 16" className="size-4" fill="none" stroke="currentColor" strokeWidth="1.6" aria-hidden="true">
      <rect x="1.5" y="6" width="6.5" height="6.5" strokeDasharray="2 1.4" />
      <path d="M8 8 L14 2 M9.5 2 L14 2 L14 6.5" />
    </svg>
  );
}

type Props = { pen: Pen; rubric: MarkingItem["rubric"]; canUndo: boolean; onUndo: () => void };

/** What can be put on a picture of an answer, in one row above it. */
export function PenBar({ pen, rubric, canUndo, onUndo }: Props) {
  const criteria = rubric.criteria;
  return (
    <div
      data-screen-only
      className="sticky top-0 z-10 -mx-2 mb-2 flex flex-wrap items-center gap-x-1.5 gap-y-1 border-b border-hairline bg-page px-2 py-1.5 select-none"
    >
      <ToggleGroup.Root
        type="single"
        aria-label={t`What is in your hand`}
        className="flex flex-wrap gap-px"
        value={pen.tool}
        onValueChange={(tool) => tool && pen.take(tool as Tool)}
      >
        {(Object.keys(SIGNS) as Tool[]).map((tool) => (
          <ToggleGroup.Item
            key={tool}
            value={tool}
            aria-label={toolName(tool)}
            title={`${toolName(tool)} (${KEY_OF[tool]})`}
            className="flex h-8 min-w-7 items-center justify-center rounded-xs border border-transparent px-1 text-base text-graphite hover:text-ink data-[state=on]:border-plum data-[state=on]:bg-plum-wash data-[state=on]:text-plum"
          >
            <span aria-hidden="true">{SIGNS[tool]}</span>
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      {criteria.length > 1 && (
        <CompactSelect
          name={t`What it belongs to`}
          value={`c${pen.criterion}`}
          of={{ c: t`no criterion`, ...Object.fromEntries(criteria.map((one) => [`c${one.id}`, one.name])) }}
          onChange={(chosen) => pen.belongsTo(chosen.slice(1))}
        />
      )}
      <span className="ms-auto flex items-center text-base">
        <Button
          variant="quiet"
          className="no-underline!"
          aria-label={t`Undo`}
          title={t`Undo (Ctrl Z)`}
          disabled={!canUndo}
          onClick={onUndo}
        >
          ↶
        </Button>
        <Button
          variant="quiet"
          className="no-underline!"
          aria-label={t`smaller`}
          disabled={pen.size === SIZES[0]}
          onClick={() => pen.resize(SIZES[SIZES.indexOf(pen.size) - 1] ?? 100)}
        >
          −
        </Button>
        <Button
          variant="quiet"
          className="no-underline!"
          aria-label={t`larger`}
          disabled={pen.size === SIZES.at(-1)}
          onClick={() => pen.resize(SIZES[SIZES.indexOf(pen.size) + 1] ?? 100)}
        >
          +
        </Button>
      </span>
      {pen.tool === "stamp" && <Stamps pen={pen} />}
    </div>
  );
}

/** The marker's own stamps: one is in the hand, a new one is made in place. */
function Stamps({ pen }: { pen: Pen }) {
  const client = useQueryClient();
  const [words, setWords] = useState("");
  const key = ["stamps"];
  const stamps = useQuery({ queryKey: key, queryFn: () => read(api.GET("/api/v1/marking/stamps")) });
  const add = useMutation({
    mutationFn: () => read(api.POST("/api/v1/marking/stamps", { body: { words } })),
    onSuccess: (some) => {
      answered(client, key, some);
      pen.ink(words.trim().replace(/\s+/g, " "));
      setWords("");
    },
  });
  const remove = useMutation({
    mutationFn: (stamp_id: number) =>
      read(api.DELETE("/api/v1/marking/stamps/{stamp_id}", { params: { path: { stamp_id } } })),
    onSuccess: (some) => answered(client, key, some),
  });
  const say = useSay();
  const takeOut = ({ id, words }: { id: number; words: string }) =>
    remove.mutate(id, {
      onSuccess: () =>
        say(t`The stamp “${words}” is taken out. What it was put on keeps it.`, () =>
          read(api.POST("/api/v1/marking/stamps", { body: { words } })).then((some) => answered(client, key, some)),
        ),
    });
  return (
    <div className="flex w-full flex-wrap items-center gap-2 border-t border-hairline pt-1.5 text-sm">
      {stamps.data?.map((stamp) => (
        <span key={stamp.id} className="inline-flex items-center">
          <Button
            aria-pressed={pen.stamp === stamp.words}
            className={pen.stamp === stamp.words ? "border-plum! text-plum!" : ""}
            onClick={() => pen.ink(stamp.words)}
          >
            {stamp.words}
          </Button>
          <Button variant="quiet" aria-label={t`Take out the stamp “${stamp.words}”`} onClick={() => takeOut(stamp)}>
            ×
          </Button>
        </span>
      ))}
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (words.trim()) add.mutate();
        }}
      >
        <TextInput
          aria-label={t`Words of a new stamp`}
          placeholder={t`Words of a new stamp`}
          maxLength={40}
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <Button type="submit" disabled={!words.trim()}>{t`Add`}</Button>
      </form>
      <Problem error={add.error ?? remove.error ?? stamps.error} />
    </div>
  );
}
