import { useQuery } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { pageKey } from "./use-marking";

/** “Electric circuits · 8 Heron”: which sitting a page of the marking desk is about. */
export function useTitle(sittingId: number): string {
  const page = useQuery({
    queryKey: pageKey(sittingId, "first"),
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/marking", { params: { path: { sitting_id: sittingId } } })),
  });
  return page.data ? `${page.data.title} · ${page.data.class_name}` : "";
}
