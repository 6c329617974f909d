import type { ComponentType } from "react";
import type { Schemas } from "../../api/client";

export type Content = Schemas["ItemPage"]["content"];
export type ContentOf<K extends Content["kind"]> = Extract<Content, { kind: K }>;
export type EditorProps<C> = { content: C; onChange: (content: C) => void };
export type Kind<C> = { name: string; says: string; blank: () => C; Editor: ComponentType<EditorProps<C>> };
