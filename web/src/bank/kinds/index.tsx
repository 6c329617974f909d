import type { ComponentType } from "react";
import type { Schemas } from "../../api/client";
import { SingleChoiceEditor } from "./single-choice";
import { TrueFalseEditor } from "./true-false";

export type Content = Schemas["ItemPage"]["content"];
export type ContentOf<K extends Content["kind"]> = Extract<Content, { kind: K }>;
export type EditorProps<C> = { content: C; onChange: (content: C) => void };

type Kind<C> = { name: string; blank: () => C; Editor: ComponentType<EditorProps<C>> };

const optionId = () => crypto.getRandomValues(new Uint32Array(1))[0]?.toString(36).padStart(7, "0") ?? "0";
export const blankOption = () => ({ id: optionId(), text: "", idea_note: "" });

/** What each kind of item brings to the bank: its name, an empty one, and its editor. The one place that knows them all. */
export const KINDS: { [K in Content["kind"]]: Kind<ContentOf<K>> } = {
  single_choice: {
    name: "Single choice",
    blank: () => ({
      kind: "single_choice",
      stem: "",
      marks: 1,
      options: [blankOption(), blankOption(), blankOption(), blankOption()],
      key: null,
    }),
    Editor: SingleChoiceEditor,
  },
  true_false: {
    name: "True or false",
    blank: () => ({ kind: "true_false", stem: "", marks: 1, key: null, idea_note: "" }),
    Editor: TrueFalseEditor,
  },
};

/** The editor of an item of any kind. */
export function KindEditor({ content, onChange }: EditorProps<Content>) {
  // The union narrows per kind in the table above; here one cast joins content and editor again.
  const Editor = KINDS[content.kind].Editor as ComponentType<EditorProps<Content>>;
  return <Editor content={content} onChange={onChange} />;
}
