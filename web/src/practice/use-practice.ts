import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";

/** The practice run there is, and how one begins: at the sitting of the invented class. */
export function usePractice() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const run = useQuery({
    queryKey: ["practice"],
    queryFn: () => read(api.GET("/api/v1/practice")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const start = useMutation({
    mutationFn: () => read(api.POST("/api/v1/practice")),
    onSuccess: async (page) => {
      await changed(client, "practice");
      navigate(`/sittings/${page.sitting}`);
    },
  });
  return { run: run.data, start };
}
