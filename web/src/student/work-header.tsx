import { t } from "@lingui/core/macro";
import { useState } from "react";
import type { SeatPage } from "./api";
import { type ComfortInHand, ComfortPanel } from "./comfort";
import { comesUpAgain } from "./fetch-ahead";
import type { Outbox } from "./outbox";
import { TakeABreak } from "./own-break";
import { TimeLeft } from "./time-left";

type Props = {
  seat: SeatPage;
  outbox: Outbox;
  done: number;
  of: number;
  comfort: ComfortInHand;
  onTimeUp: () => void;
  onSeat: (seat: SeatPage) => void;
};

/** Who works here, whether everything is kept, how long they have, and how far they are. */
export function WorkHeader({ seat, outbox, done, of, comfort, onTimeUp, onSeat }: Props) {
  const [looks, setLooks] = useState(false);
  return (
    <header className="sticky top-0 z-10 bg-page">
      <div className="flex flex-wrap items-baseline gap-x-3 px-4.5 py-3">
        <strong dir="auto">{seat.student}</strong>
        <DeliveryNote outbox={outbox} />
        <TakeABreak seat={seat} onSeat={onSeat} ready={() => outbox.flush()} />
        <span className="ms-auto flex items-baseline gap-3">
          <TimeLeft seat={seat} onUp={onTimeUp} />
          <button
            type="button"
            aria-label={t`How it looks`}
            aria-expanded={looks}
            onClick={() => setLooks(!looks)}
            className="min-h-8 min-w-8 font-serif text-lg font-semibold"
          >{t`Aa`}</button>
        </span>
      </div>
      {looks && <ComfortPanel comfort={comfort} onClose={() => setLooks(false)} />}
      <div
        role="progressbar"
        aria-label={t`answered`}
        aria-valuenow={done}
        aria-valuemin={0}
        aria-valuemax={of}
        className="h-1.5 bg-hairline"
      >
        <div className="h-full bg-ink" style={{ width: `${(100 * done) / Math.max(1, of)}%` }} />
      </div>
    </header>
  );
}

function DeliveryNote({ outbox }: { outbox: Outbox }) {
  const count = outbox.questionsWaiting;
  const words = {
    kept: t`all answers kept ✓`,
    sending: t`keeping…`,
    waiting: comesUpAgain()
      ? t`◐ no connection: ${count} kept here`
      : t`◐ no connection: ${count} kept here. Do not reload this page.`,
    refused: t`◐ ${count} not taken yet`,
  }[outbox.delivery];
  return (
    <span
      role="status"
      className={outbox.delivery === "kept" || outbox.delivery === "sending" ? "text-graphite" : "text-ochre"}
    >
      {words}
    </span>
  );
}
