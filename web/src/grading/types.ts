import type { Schemas } from "../api/client";
import type { At } from "./sequence";

export type MarkingPage = Schemas["MarkingPage"];
export type MarkingItem = Schemas["MarkingItem"];
export type AnswerPage = Schemas["AnswerPage"];
/** Which reading of the answers: the first, the second, or what is to be agreed on. */
export type Turn = MarkingPage["turn"];

/** What the outbox holds of marking, until the server has it. */
export type MarkToSend = At & { sitting: number; mark: Schemas["MarkBody"] };
export type BookmarkToSend = { sitting: number; at: Schemas["BookmarkBody"] };
export type OverallToSend = {
  sitting: number;
  number: number;
  text: string;
  seen: number | null;
  /** The answer that was looked at, and what stands for it. */
  item: string;
  work: string;
};
export type RemarksToSend = At & {
  sitting: number;
  turn: Turn;
  added: Schemas["RemarkToMake"][];
  /** Keys of those that are taken back. */
  gone: string[];
  /** Stands for the answer that was looked at. */
  work: string;
};
