import { changed } from "../api/changes";
import { api, once, read, type Schemas } from "../api/client";
import type { Sender } from "../outbox/outbox";
import type { Surroundings } from "../outbox/use-outbox";
import { type Change, joined } from "./grid";

export type MarksToSend = { sitting: number; change: Change };

/** Marks of a test given elsewhere, typed along their grid. */
export function marksSender({ client }: Surroundings): Sender<MarksToSend, Schemas["MarksPage"]> {
  return {
    send: ({ sitting, change }, id, signal) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marks", {
          params: { path: { sitting_id: sitting } },
          body: change,
          headers: once(id),
          signal,
        }),
      ),
    arrived: ({ body }, page) => {
      const key = ["marks", body.sitting];
      // An answer that was asked for earlier would show what stood before.
      const shown = client.cancelQueries({ queryKey: key }).then(() => {
        if (page) client.setQueryData(key, page);
        else return client.invalidateQueries({ queryKey: key });
      });
      void changed(client, "marks of a test given elsewhere", "marks");
      return shown;
    },
    join: (earlier, later) => ({ ...earlier, change: joined([earlier.change, later.change]) }),
  };
}
