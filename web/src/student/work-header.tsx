import type { Outbox } from "./outbox";

type Props = { name: string; outbox: Outbox; done: number; of: number };

/** Who works here, whether everything is kept, and how far they are. */
export function WorkHeader({ name, outbox, done, of }: Props) {
  return (
    <header className="sticky top-0 z-10 bg-page">
      <div className="flex items-baseline justify-between gap-3 px-4.5 py-4">
        <strong>{name}</strong>
        <DeliveryNote outbox={outbox} />
      </div>
      <div
        role="progressbar"
        aria-label="answered"
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
  const count = outbox.waiting.length;
  const words = {
    kept: "all answers kept ✓",
    sending: "keeping…",
    waiting: `◐ no connection: ${count} kept here`,
    refused: `◐ ${count} not taken yet`,
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
