import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";

export type Sitting = Schemas["SittingPage"];
export type SeatLine = Schemas["SeatLine"];
export type SeatAct = Schemas["SeatAct"];
export type SittingInHand = ReturnType<typeof useSitting>;

/** A sitting as it stands, and everything the teacher can do with it and with those who sit it. */
export function useSitting(sittingId: number) {
  const client = useQueryClient();
  const key = ["sitting", sittingId];
  const path = { sitting_id: sittingId };
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}", { params: { path } })),
  });
  const change = useMutation({
    mutationFn: (make: () => Promise<Sitting>) => make(),
    onSuccess: (page) => {
      answered(client, key, page);
      void changed(client, "sitting", "sitting");
    },
  });
  return {
    page: found.data,
    problem: found.error,
    error: change.error,
    busy: change.isPending,
    look: () => client.invalidateQueries({ queryKey: key }),
    open: () =>
      change.mutate(() =>
        read(api.POST("/api/v1/sittings/{sitting_id}/steps/{step}", { params: { path: { ...path, step: "open" } } })),
      ),
    pause: () =>
      change.mutate(() =>
        read(api.POST("/api/v1/sittings/{sitting_id}/steps/{step}", { params: { path: { ...path, step: "pause" } } })),
      ),
    close: (paused_go_on: boolean) =>
      change.mutate(() =>
        read(
          api.POST("/api/v1/sittings/{sitting_id}/steps/{step}", {
            params: { path: { ...path, step: "close" }, query: { paused_go_on } },
          }),
        ),
      ),
    act: (seat: number, body: Pick<SeatAct, "act"> & Partial<SeatAct>) =>
      change.mutate(() =>
        read(
          api.POST("/api/v1/sittings/{sitting_id}/seats/{seat_id}/acts", {
            params: { path: { ...path, seat_id: seat } },
            body: { minutes: 0, comment: "", form: "", ...body },
          }),
        ),
      ),
    letAllIn: () =>
      change.mutate(() =>
        read(api.POST("/api/v1/sittings/{sitting_id}/acts", { params: { path }, body: { act: "let in", minutes: 0 } })),
      ),
    lockAll: (locked: boolean) =>
      change.mutate(() =>
        read(
          api.POST("/api/v1/sittings/{sitting_id}/acts", {
            params: { path },
            body: { act: locked ? "lock" : "unlock", minutes: 0 },
          }),
        ),
      ),
    giveAll: (minutes: number) =>
      change.mutate(() =>
        read(api.POST("/api/v1/sittings/{sitting_id}/acts", { params: { path }, body: { act: "give time", minutes } })),
      ),
    absence: (seat: number, state: Schemas["Absence"]["state"]) =>
      change.mutate(() =>
        read(
          api.PUT("/api/v1/sittings/{sitting_id}/seats/{seat_id}", {
            params: { path: { ...path, seat_id: seat } },
            body: { state },
          }),
        ),
      ),
    changePlan: (body: Schemas["PlanBody"]) =>
      change.mutateAsync(() => read(api.PUT("/api/v1/sittings/{sitting_id}", { params: { path }, body }))),
  };
}
