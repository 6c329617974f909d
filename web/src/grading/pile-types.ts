import type { Schemas } from "../api/client";

/** A shared pile as its head sees it. */
export type Pile = Schemas["PilePage"];
/** Something that its head does with it. */
export type Change = (make: () => Promise<unknown>) => void;
