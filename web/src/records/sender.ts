import { changed } from "../api/changes";
import { api, once, read } from "../api/client";
import type { Sender } from "../outbox/outbox";
import type { Surroundings } from "../outbox/use-outbox";
import { type Numbers, together } from "./numbers";

export type NumbersToSend = { classId: number; reason: string; numbers: Numbers };

/** One reason, one request: a slot holds the numbers of a class that are set for the same reason. */
export const numbersSlot = (classId: number, reason: string) => `${classId} ${reason}`;

/** Numbers of a record, typed along its grid. */
export function numbersSender({ client }: Surroundings): Sender<NumbersToSend> {
  return {
    send: ({ classId, reason, numbers }, id, signal) =>
      read(
        api.PUT("/api/v1/classes/{class_id}/record/numbers", {
          params: { path: { class_id: classId } },
          body: { reason, ...numbers },
          headers: once(id),
          signal,
        }),
      ),
    arrived: () => changed(client, "record"),
    join: (earlier, later) => ({ ...earlier, numbers: together(earlier.numbers, later.numbers) }),
  };
}
