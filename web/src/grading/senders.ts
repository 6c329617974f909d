import { t } from "@lingui/core/macro";
import type { QueryClient } from "@tanstack/react-query";
import { api, once, read, type Schemas } from "../api/client";
import type { Sender } from "../outbox/outbox";
import type { Surroundings } from "../outbox/use-outbox";
import type { At } from "./sequence";
import type { AnswerPage, BookmarkToSend, MarkingPage, MarkToSend, OverallToSend, RemarksToSend, Turn } from "./types";
import { answerKey, pageKey } from "./use-marking";

type Kept = Schemas["Kept"];

export const markSlot = (sitting: number, turn: Turn, at: At) => `${sitting} ${turn} ${at.item} ${at.number}`;
export const overallSlot = (sitting: number, number: number) => `${sitting} ${number}`;
const addressOf = (sitting: number, turn: Turn, at: At) =>
  turn === "pile"
    ? "/marking"
    : `/marking/${sitting}?${new URLSearchParams({ reading: turn, item: at.item, number: String(at.number) })}`;

export function markSender({ outbox, client, say, go }: Surroundings): Sender<MarkToSend, Kept> {
  return {
    newestOnly: true,
    send: ({ sitting, item, number, mark }, id, signal) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/{item}/{number}", {
          params: { path: { sitting_id: sitting, item, number } },
          body: mark,
          headers: once(id),
          signal,
        }),
      ),
    arrived: (entry, kept) => {
      const { sitting, item, number, mark } = entry.body;
      const turn = mark.turn ?? "first";
      if (kept?.stands) {
        // A page that was asked for before this mark was there would take it away again for a moment.
        const stale = client.isFetching({ queryKey: pageKey(sitting, turn) }) > 0;
        if (stale) void client.cancelQueries({ queryKey: pageKey(sitting, turn) });
        client.setQueryData<MarkingPage>(pageKey(sitting, turn), (page) => page && withEntry(page, item, kept));
        if (stale) void client.invalidateQueries({ queryKey: pageKey(sitting, turn) });
        // So would the answer itself, where one went back to it at once.
        const key = answerKey(sitting, turn, { item, number });
        const asked = client.isFetching({ queryKey: key }) > 0;
        if (asked) void client.cancelQueries({ queryKey: key });
        client.setQueryData<AnswerPage>(key, (found) => found && { ...found, mark: kept.mark });
        if (asked) void client.invalidateQueries({ queryKey: key });
      } else {
        client.invalidateQueries({ queryKey: answerKey(sitting, turn, { item, number }) });
        client.invalidateQueries({ queryKey: pageKey(sitting, turn) });
      }
      client.invalidateQueries({ queryKey: ["marking"], exact: true });
      if (turn === "pile") inPiles(client, sitting, item, kept);
      // Whatever counts marks was asked while this one was on its way.
      for (const counted of ["second", "rubric", "results", "settling", "empty"])
        client.invalidateQueries({ queryKey: [counted, sitting] });
      for (const counted of ["findings", "desk", "comments"]) client.invalidateQueries({ queryKey: [counted] });
      if (!kept?.other) return;
      // What was begun stays in this browser, beside what a colleague has given meanwhile.
      const newer = outbox.newest("mark", entry.slot);
      if (mark.draft && newer?.id === entry.id)
        outbox.put("mark", entry.slot, entry.name, entry.body, { parked: true });
      if (!mark.draft)
        say(
          t`${kept.other.by} has marked ${entry.name} too. Both marks are kept; one of you chooses.`,
          () => go(addressOf(sitting, turn, { item, number })),
          t`Look`,
        );
    },
  };
}

/** A mark that has arrived stands at the desk of its pile before that is asked for again. */
function inPiles(client: QueryClient, sitting: number, item: string, kept: Kept | undefined): void {
  if (kept)
    client.setQueriesData<Schemas["PileDesk"]>({ queryKey: ["pile", "desk"] }, (desk) => {
      if (!desk) return desk;
      const entries = desk.entries.map((one) =>
        one.sitting === sitting && one.item === item && one.entry.number === kept.entry.number
          ? { ...one, entry: kept.entry, again: kept.mark.state === "kept" ? "" : one.again }
          : one,
      );
      return { ...desk, entries };
    });
  void client.invalidateQueries({ queryKey: ["pile"] });
}

/** What a student is told about all of their work. */
export function overallSender({ client }: Surroundings): Sender<OverallToSend, Schemas["OverallKept"]> {
  return {
    newestOnly: true,
    send: ({ sitting, number, text, seen, item, work }, id, signal) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/students/{number}/overall", {
          params: { path: { sitting_id: sitting, number } },
          body: { text, seen, item, work },
          headers: once(id),
          signal,
        }),
      ),
    // Every answer of this student has it beside it.
    arrived: ({ body }, kept) => {
      if (!kept) return void client.invalidateQueries({ queryKey: ["answer", body.sitting] });
      client.setQueriesData<AnswerPage>({ queryKey: ["answer", body.sitting] }, (page) =>
        page?.number === body.number ? { ...page, overall: body.text, overall_id: kept.id, overall_by: "" } : page,
      );
    },
  };
}

/** Where one is, to go on there another day. */
export function bookmarkSender(): Sender<BookmarkToSend> {
  return {
    newestOnly: true,
    silent: true,
    send: ({ sitting, at }, _id, signal) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/at", {
          params: { path: { sitting_id: sitting } },
          body: at,
          signal,
        }),
      ),
    arrived: () => {},
  };
}

/** What was put on an answer. A burst of strokes goes as one. */
export function remarksSender({ client }: Surroundings): Sender<RemarksToSend, Schemas["RemarksChanged"]> {
  return {
    join: (earlier, later) => ({
      ...later,
      added: [...earlier.added, ...later.added],
      gone: [...earlier.gone, ...later.gone],
    }),
    send: ({ sitting, turn, item, number, added, gone, work }, id, signal) =>
      read(
        api.PATCH("/api/v1/sittings/{sitting_id}/marking/{item}/{number}/remarks", {
          params: { path: { sitting_id: sitting, item, number } },
          body: { added, gone, turn, work },
          headers: once(id),
          signal,
        }),
      ),
    arrived: ({ body }, changed) => {
      const key = answerKey(body.sitting, body.turn, body);
      if (!changed) return void client.invalidateQueries({ queryKey: key });
      client.setQueryData<AnswerPage>(key, (page) => {
        if (!page) return page;
        const gone = new Set([...changed.gone, ...changed.added.map((one) => one.key)]);
        return { ...page, remarks: [...page.remarks.filter((one) => !gone.has(one.key)), ...changed.added] };
      });
    },
  };
}

function withEntry(page: MarkingPage, item: string, kept: Kept): MarkingPage {
  const entries = (page.entries[item] ?? []).map((one) => (one.number === kept.entry.number ? kept.entry : one));
  const items = page.items.map((one) => (one.ref === item ? { ...one, comments: kept.comments } : one));
  return { ...page, items, may_hide: false, entries: { ...page.entries, [item]: entries } };
}
