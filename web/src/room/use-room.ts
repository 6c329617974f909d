import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { useNudges } from "../api/nudges";

export type RoomInHand = ReturnType<typeof useRoom>;
export type ConsolePage = Schemas["Console"];
type By = Schemas["Practice"]["by"];
type Act = Schemas["Act"]["act"];

/** A lesson as it stands, and everything the teacher can do with it. */
export function useRoom(sittingId: number) {
  const client = useQueryClient();
  const key = ["room", sittingId];
  const params = { path: { sitting_id: sittingId } };
  const room = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/room", { params })),
  });
  useNudges(`/ws/sittings/${sittingId}`, () => client.invalidateQueries({ queryKey: key }));
  const change = useMutation({
    mutationFn: (make: () => Promise<ConsolePage>) => make(),
    onSuccess: (page) => {
      answered(client, key, page);
      if (page.state === "closed") void changed(client, "sitting");
    },
  });
  const room_ = "/api/v1/sittings/{sitting_id}/room";
  return {
    page: room.data,
    problem: room.error,
    error: change.error,
    busy: change.isPending,
    look: () => client.invalidateQueries({ queryKey: key }),
    act: (act: Act, place: number | null = null) =>
      change.mutate(() => read(api.POST(`${room_}/acts`, { params, body: { act, place } }))),
    practise: (by: By) => change.mutate(() => read(api.POST(`${room_}/practice`, { params, body: { by } }))),
    quick: (options: number) => change.mutate(() => read(api.POST(`${room_}/quick`, { params, body: { options } }))),
    quickKey: (letter: string) =>
      change.mutate(() => read(api.PUT(`${room_}/quick/key`, { params, body: { letter } }))),
    reorder: (refs: string[]) => change.mutate(() => read(api.PUT(`${room_}/order`, { params, body: { refs } }))),
    set: (body: Schemas["WallSet"]) => change.mutate(() => read(api.PUT(`${room_}/wall`, { params, body }))),
    answerFor: (seat: number, letter: string) =>
      change.mutate(() => read(api.POST(`${room_}/answers`, { params, body: { seat, letter } }))),
  };
}
