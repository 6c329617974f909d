import { type ComponentType, createContext, useContext } from "react";
import type { Schemas } from "../api/client";

export type AskInRoomProps = {
  what: Pick<Schemas["Start"], "test" | "edition" | "item" | "like">;
  label?: string;
};

/** How a question or test is asked in the room, which comes later in the job than the pages that offer it. */
export const AskInRoomSlot = createContext<ComponentType<AskInRoomProps> | null>(null);

export function AskInRoom(props: AskInRoomProps) {
  const Filled = useContext(AskInRoomSlot);
  return Filled && <Filled {...props} />;
}
