import type { ComponentType } from "react";
import type { components } from "../schema";

export type Question = components["schemas"]["PaperItem"];
export type Item = Question["item"];
export type Response = NonNullable<components["schemas"]["KeptAnswer"]["response"]>;
type ItemOf<K extends Item["kind"]> = Extract<Item, { kind: K }>;
type ResponseOf<K extends Response["kind"]> = Extract<Response, { kind: K }>;

export type AnswerProps<K extends Item["kind"]> = {
  item: ItemOf<K>;
  /** Names the inputs of this question apart from others on the page. */
  name: string;
  response: ResponseOf<K> | null;
  /** null takes the answer back. */
  onRespond: (response: ResponseOf<K> | null) => void;
};

export type Kind<K extends Item["kind"]> = {
  Answer: ComponentType<AnswerProps<K>>;
  /** The answer in a few signs, for the list of all questions. */
  sign: (response: ResponseOf<K>, item: ItemOf<K>) => string;
};
