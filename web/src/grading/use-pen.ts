import { useState } from "react";
import { useKeys } from "../ui/keys";
import type { Tool } from "./pen";

const KEYS: Record<string, Tool> = {
  r: "frame",
  p: "pen",
  i: "broad",
  t: "tick",
  x: "cross",
  q: "question",
  u: "underline",
  w: "words",
  k: "stamp",
  m: "move",
};

/** The keys of the tools, as the bar shows them. */
export const KEY_OF = Object.fromEntries(
  Object.entries(KEYS).map(([key, tool]) => [tool, key.toUpperCase()]),
) as Record<Tool, string>;

/** What is in the marker's hand: it stays there from one answer to the next. */
export type Pen = {
  tool: Tool;
  take: (tool: Tool) => void;
  /** Of the rubric; empty for none. */
  criterion: string;
  belongsTo: (criterion: string) => void;
  stamp: string;
  ink: (words: string) => void;
  size: number;
  resize: (size: number) => void;
};

const inHand = { tool: "frame" as Tool, stamp: "", size: 100 };

export function usePen(active: boolean): Pen {
  const [tool, setTool] = useState<Tool>(inHand.tool);
  const [criterion, setCriterion] = useState("");
  const [stamp, setStamp] = useState(inHand.stamp);
  const [size, setSize] = useState(inHand.size);
  const take = (next: Tool) => {
    inHand.tool = next;
    setTool(next);
  };
  useKeys(active ? Object.fromEntries(Object.entries(KEYS).map(([key, one]) => [key, () => take(one)])) : {});
  return {
    tool,
    take,
    criterion,
    belongsTo: setCriterion,
    stamp,
    ink: (words) => {
      inHand.stamp = words;
      setStamp(words);
    },
    size,
    resize: (next) => {
      inHand.size = next;
      setSize(next);
    },
  };
}
