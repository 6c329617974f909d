import { answered, changed } from "../api/changes";
import { api, once, read, type Schemas } from "../api/client";
import type { Sender } from "../outbox/outbox";
import type { Surroundings } from "../outbox/use-outbox";

export type CardToSend = { sitting: number; seat: number; said: Schemas["CardSaid"] };

/** What a student said to a card, in the order of the keys pressed. */
export function cardSender({ client }: Surroundings): Sender<CardToSend, Schemas["CardsPage"]> {
  return {
    send: ({ sitting, seat, said }, id, signal) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/one-to-one/{seat_id}", {
          params: { path: { sitting_id: sitting, seat_id: seat } },
          body: said,
          headers: once(id),
          signal,
        }),
      ),
    arrived: ({ body }, page) => {
      const key = ["one to one", body.sitting];
      if (page) answered(client, key, page);
      else client.invalidateQueries({ queryKey: key });
      void changed(client, "marks of a test given elsewhere");
    },
  };
}
