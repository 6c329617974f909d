import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";

export type ClassRecord = Schemas["ClassRecord"];
export type RecordStudent = ClassRecord["students"][number];
export type RecordCell = NonNullable<RecordStudent["cells"][number]>;

/** The record of a class. */
export function useRecord(classId: number) {
  return useQuery({
    queryKey: ["record", classId],
    queryFn: () => read(api.GET("/api/v1/classes/{class_id}/record", { params: { path: { class_id: classId } } })),
  });
}

/** Something that changes records: does it, and has every record asked for anew. */
export function useRecordChange<What>(does: (what: What) => Promise<unknown>, onDone?: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: does,
    onSuccess: async () => {
      await changed(client, "record");
      onDone?.();
    },
  });
}
