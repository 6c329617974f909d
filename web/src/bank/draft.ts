import type { Schemas } from "../api/client";
import type { Content } from "./kinds/types";

/** A question while it is written. */
export type Draft = Omit<Schemas["ItemDraft"], "content" | "stimulus"> & { content: Content; stimulus: string | null };
