import { bookmarkSender, markSender, overallSender, remarksSender } from "../grading/senders";
import { cardSender } from "../one_to_one/sender";
import type { Surroundings } from "../outbox/use-outbox";
import { evidenceSender, watchedSender } from "../performances/sender";
import { numbersSender } from "../records/sender";
import { marksSender } from "../responses/sender";

/** Everything that is typed at speed and goes through the outbox. */
export function registerSenders(around: Surroundings): void {
  around.outbox.register("mark", markSender(around));
  around.outbox.register("bookmark", bookmarkSender());
  around.outbox.register("overall", overallSender(around));
  around.outbox.register("remarks", remarksSender(around));
  around.outbox.register("marks", marksSender(around));
  around.outbox.register("numbers", numbersSender(around));
  around.outbox.register("watched", watchedSender(around));
  around.outbox.register("evidence", evidenceSender(around));
  around.outbox.register("card", cardSender(around));
}
