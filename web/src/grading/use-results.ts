import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";

export type ResultsPage = Schemas["ResultsPage"];
export type ResultLine = Schemas["ResultLine"];
export type Lateness = Schemas["LatenessBody"];
export type Fill = Schemas["FillBody"];

/** The results of a sitting, and everything a teacher can do with them. */
export function useResults(sittingId: number) {
  const client = useQueryClient();
  const path = { sitting_id: sittingId };
  const key = ["results", sittingId];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/results", { params: { path } })),
  });
  const change = useMutation({
    mutationFn: (make: () => Promise<ResultsPage>) => make(),
    onSuccess: (page) => {
      answered(client, key, page);
      void changed(client, "results", "results");
    },
  });
  const seat = (seat_id: number) => ({ params: { path: { ...path, seat_id } } });
  return {
    page: found.data,
    problem: found.error,
    error: change.error,
    busy: change.isPending,
    release: (body: Schemas["ReleaseBody"]) =>
      change.mutate(() => read(api.PUT("/api/v1/sittings/{sitting_id}/results/release", { params: { path }, body }))),
    withdraw: (seats: number[] | null) =>
      change.mutate(() =>
        read(api.POST("/api/v1/sittings/{sitting_id}/results/withdraw", { params: { path }, body: { seats } })),
      ),
    setTotal: (id: number, total: number, reason: string) =>
      change.mutateAsync(() =>
        read(
          api.PUT("/api/v1/sittings/{sitting_id}/results/seats/{seat_id}/total", {
            ...seat(id),
            body: { total, reason },
          }),
        ),
      ),
    takeTotalBack: (id: number) =>
      change.mutate(() => read(api.DELETE("/api/v1/sittings/{sitting_id}/results/seats/{seat_id}/total", seat(id)))),
    leaveOut: (id: number, reason: string) =>
      change.mutateAsync(() =>
        read(
          api.PUT("/api/v1/sittings/{sitting_id}/results/seats/{seat_id}/left-out", { ...seat(id), body: { reason } }),
        ),
      ),
    takeIn: (id: number) =>
      change.mutate(() => read(api.DELETE("/api/v1/sittings/{sitting_id}/results/seats/{seat_id}/left-out", seat(id)))),
    setLateness: (body: Lateness) =>
      change.mutateAsync(() =>
        read(api.PUT("/api/v1/sittings/{sitting_id}/results/lateness", { params: { path }, body })),
      ),
    endLateness: () =>
      change.mutate(() => read(api.DELETE("/api/v1/sittings/{sitting_id}/results/lateness", { params: { path } }))),
    fillEmpty: (body: Fill) =>
      change.mutateAsync(() =>
        read(api.POST("/api/v1/sittings/{sitting_id}/results/empty", { params: { path }, body })),
      ),
  };
}

export type Results = ReturnType<typeof useResults>;
