import { useEffect, useRef, useState } from "react";
import { handIn, type SeatPage } from "./api";
import { give, pickedIn } from "./kinds";
import type { Outbox } from "./outbox";
import { Alert, BigButton } from "./parts";
import { QuestionList } from "./question-list";
import { QuestionView } from "./question-view";
import { useAnswers } from "./use-answers";

type Paper = NonNullable<SeatPage["paper"]>;
type Props = { seat: SeatPage; paper: Paper; onSeat: (seat: SeatPage) => void; onLook: () => void };

/** At work: one question at a time, the whole list one tap away. */
export function Working({ seat, paper, onSeat, onLook }: Props) {
  const { given, set, outbox } = useAnswers(seat);
  const [at, setAt] = useState(() =>
    Math.max(
      0,
      paper.items.findIndex((item) => !given[item.ref]?.response),
    ),
  );
  const [listing, setListing] = useState(false);
  const [says, setSays] = useState<string | null>(null);
  const top = useRef<HTMLDivElement>(null);
  const question = paper.items[at];
  const answered = paper.items.filter((item) => given[item.ref]?.response).length;
  useEffect(() => {
    // A refused answer means that the test was paused or closed: ask how things stand.
    if (outbox.refusal) onLook();
  }, [outbox.refusal, onLook]);
  const go = (place: number) => {
    setAt(place);
    setListing(false);
    top.current?.focus();
    scrollTo(0, 0);
  };
  const finish = async () => {
    setSays(null);
    if (!(await outbox.flush())) {
      setSays(
        "No connection just now. Your answers are safe on this device and go out as soon as it is back; then hand in again.",
      );
      return;
    }
    try {
      onSeat(await handIn());
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  if (!question) return null;
  const last = at === paper.items.length - 1;
  const comeBack = given[question.ref]?.comeBack ?? false;
  return (
    <div className="mx-auto flex min-h-dvh max-w-2xl flex-col bg-page">
      <header className="sticky top-0 z-10 bg-page">
        <div className="flex items-baseline justify-between gap-3 px-4.5 py-4">
          <strong>{seat.student}</strong>
          <DeliveryNote outbox={outbox} />
        </div>
        <div
          role="progressbar"
          aria-label="answered"
          aria-valuenow={answered}
          aria-valuemin={0}
          aria-valuemax={paper.items.length}
          className="h-1.5 bg-hairline"
        >
          <div className="h-full bg-ink" style={{ width: `${(100 * answered) / paper.items.length}%` }} />
        </div>
      </header>
      <main ref={top} tabIndex={-1} className="flex-1 px-4.5 py-6 outline-none">
        <h1 className="sr-only">{paper.title}</h1>
        {listing ? (
          <QuestionList paper={paper} given={given} at={at} says={says} onGo={go} onHandIn={finish} />
        ) : (
          <>
            {at === 0 && paper.instructions && (
              <p className="mb-5 border-l-2 border-hairline pl-3 text-graphite">{paper.instructions}</p>
            )}
            <QuestionView
              question={question}
              of={paper.items.length}
              picked={pickedIn(given[question.ref]?.response ?? null)}
              onPick={(option) => set(question.ref, { response: give(question, option) })}
            />
            <label className="mt-3 flex min-h-11 items-center gap-2.5 text-graphite">
              <input
                type="checkbox"
                className="size-5 accent-[var(--ink)]"
                checked={comeBack}
                onChange={() => set(question.ref, { comeBack: !comeBack })}
              />
              Come back to this one
            </label>
            <Alert says={outbox.refusal} />
          </>
        )}
      </main>
      <footer className="sticky bottom-0 flex justify-between gap-2.5 border-t border-hairline bg-page px-4.5 py-3.5">
        <span className="flex gap-2.5">
          <BigButton disabled={at === 0 || listing} onClick={() => go(at - 1)}>
            Back
          </BigButton>
          <BigButton aria-expanded={listing} onClick={() => setListing(!listing)}>
            {listing ? `To ${question.number}` : `All ${paper.items.length}`}
          </BigButton>
        </span>
        {!listing && (
          <BigButton look="main" onClick={() => (last ? setListing(true) : go(at + 1))}>
            {last ? "Review" : "Next"}
          </BigButton>
        )}
      </footer>
    </div>
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
