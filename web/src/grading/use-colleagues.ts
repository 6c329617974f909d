import { useQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import type { At } from "./sequence";
import type { Turn } from "./types";

const EVERY = 10_000;

export type Colleague = Schemas["MarkerAt"];

/** Tells where one is, and hears who else is at work in the same sitting. */
export function useColleagues(sittingId: number, turn: Turn, at: At | null): Colleague[] {
  const here = useQuery({
    queryKey: ["markers", sittingId, turn, at?.item, at?.number],
    queryFn: () =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/here", {
          params: { path: { sitting_id: sittingId } },
          body: { item: at?.item ?? "", number: at?.number ?? 0, turn },
        }),
      ),
    enabled: at !== null,
    refetchInterval: EVERY,
    placeholderData: (before) => before,
    staleTime: 0,
  });
  return here.data ?? [];
}
