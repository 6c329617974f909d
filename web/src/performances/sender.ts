import { t } from "@lingui/core/macro";
import { changed } from "../api/changes";
import { api, once, Refused, read, type Schemas } from "../api/client";
import type { Sender } from "../outbox/outbox";
import type { Surroundings } from "../outbox/use-outbox";
import { dropRecording, recordingOf } from "./recordings";

export type Reading = Schemas["WatchPage"]["turn"];
type Place = { sitting: number; seat: number; item: string; turn: Reading };
export type WatchedToSend = Place & { mark: Schemas["WatchedMarkBody"] };
export type EvidenceToSend = Place & { recording: string; name: string; bytes: number };
type Student = Schemas["WatchedStudent"];

export const watchKey = (sitting: number, turn: Reading) => ["watching", sitting, turn];
export const slotOf = ({ sitting, seat, item, turn }: Place) => `${sitting} ${turn} ${seat} ${item}`;

/** What the server has of a student now, into the page. */
export function put({ client }: Pick<Surroundings, "client">, place: Place, student: Student | undefined): void {
  const key = watchKey(place.sitting, place.turn);
  if (!student) return void client.invalidateQueries({ queryKey: key });
  client.setQueryData<Schemas["WatchPage"]>(
    key,
    (page) => page && { ...page, students: page.students.map((one) => (one.seat === student.seat ? student : one)) },
  );
}

/** A mark that was given while somebody was watched. */
export function watchedSender(around: Surroundings): Sender<WatchedToSend, Student> {
  return {
    newestOnly: true,
    send: ({ sitting, seat, item, mark }, id, signal) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/watching/{seat_id}/{item}", {
          params: { path: { sitting_id: sitting, seat_id: seat, item } },
          body: mark,
          headers: once(id),
          signal,
        }),
      ),
    arrived: ({ body }, student) => {
      put(around, body, student);
      void changed(around.client, "marks");
    },
  };
}

/** Sound and pictures, out of this browser’s store; they leave it once the server has them. */
export function evidenceSender(around: Surroundings): Sender<EvidenceToSend, Student> {
  return {
    large: true,
    send: async ({ sitting, seat, item, turn, recording, name }, id, signal) => {
      const file = await recordingOf(recording);
      if (!file) throw new Refused(410, t`${name} is not in this browser’s store any more.`);
      const form = new FormData();
      form.append("file", file, name);
      return read(
        api.POST("/api/v1/sittings/{sitting_id}/marking/watching/{seat_id}/{item}/evidence", {
          params: { path: { sitting_id: sitting, seat_id: seat, item }, query: { turn } },
          body: { file: "" },
          bodySerializer: () => form,
          headers: once(id),
          signal,
        }),
      );
    },
    arrived: ({ body }, student) => {
      void dropRecording(body.recording);
      put(around, body, student);
      void changed(around.client, "marks");
    },
  };
}
