import { plural, t } from "@lingui/core/macro";
import { useEffect, useMemo, useRef, useState } from "react";
import { handIn, type SeatPage, sendAnswers } from "./api";
import { comesUpAgain } from "./fetch-ahead";
import { forgetHandedIn, handedInHere, outboxKey, waitingOf } from "./on-this-device";
import { Outbox } from "./outbox";
import { BigButton, Sheet } from "./parts";
import { isUnreached } from "./use-hand-in";

const AGAIN = 5_000;

/** Sends what still waits on this device for a seat that is not at work any more. */
function useLeftovers(seat: number, onSent: () => void): Outbox {
  const [, redraw] = useState(0);
  const outbox = useMemo(() => new Outbox(outboxKey(seat), sendAnswers, () => redraw((n) => n + 1)), [seat]);
  const sent = useRef(onSent);
  sent.current = onSent;
  useEffect(() => {
    const flush = () => void outbox.flush().then((all) => all && sent.current());
    if (outbox.waiting.length > 0) flush();
    addEventListener("online", flush);
    const timer = setInterval(() => outbox.waiting.length > 0 && flush(), AGAIN);
    return () => {
      removeEventListener("online", flush);
      clearInterval(timer);
      outbox.stop();
    };
  }, [outbox]);
  return outbox;
}

/** What is here only, and what keeps it here. */
function Here({ outbox }: { outbox: Outbox }) {
  const count = outbox.questionsWaiting;
  if (count === 0) return null;
  return (
    <p role="status" className="mt-4 border-s-2 border-ochre bg-ochre-wash px-4 py-3">
      {plural(count, {
        one: "◐ What you did on # question is on this device and not with your teacher yet.",
        other: "◐ What you did on # questions is on this device and not with your teacher yet.",
      })}{" "}
      {outbox.refusal ?? t`That changes by itself as soon as there is a connection.`}
    </p>
  );
}

/** What was given in time and could not be sent: it goes out while another page is shown. */
export function Leftovers({ seat, onSent }: { seat: number; onSent: () => void }) {
  return waitingOf(seat).length > 0 ? <Sending seat={seat} onSent={onSent} /> : null;
}

function Sending({ seat, onSent }: { seat: number; onSent: () => void }) {
  return <Here outbox={useLeftovers(seat, onSent)} />;
}

const LEAVE_OPEN = () =>
  comesUpAgain()
    ? t`You may switch the screen off; come back to this page where there is a connection.`
    : t`Leave this page open until then: without a connection it does not come up again.`;

/** The time ran out without a connection. */
export function TimeOver({ seat, onLook }: { seat: SeatPage; onLook: () => void }) {
  return (
    <Sheet title={t`Your time is over.`}>
      <p>{t`There is no connection just now. What you gave in time is kept here, and goes to your teacher by itself.`}</p>
      <p className="mt-3 text-base text-graphite">{LEAVE_OPEN()}</p>
      <Sending seat={seat.seat} onSent={onLook} />
    </Sheet>
  );
}

type HandedInProps = {
  seat: SeatPage;
  onSeat: (seat: SeatPage) => void;
  onLook: () => void;
  onGoOn: (() => void) | null;
};

/** Handed in on this device; the server hears of it as soon as it can be reached. */
export function HandedInHere({ seat, onSeat, onLook, onGoOn }: HandedInProps) {
  const outbox = useLeftovers(seat.seat, () => {});
  const report = useRef({ onSeat, onLook });
  report.current = { onSeat, onLook };
  useEffect(() => {
    let over = false;
    const tell = async () => {
      const when = handedInHere(seat.seat);
      // What is refused for good keeps nobody from handing in.
      if (!when || !((await outbox.flush()) || outbox.refusal) || over) return;
      try {
        const now = await handIn(when);
        forgetHandedIn(seat.seat);
        if (!over) report.current.onSeat(now);
      } catch (error) {
        if (isUnreached(error)) return;
        // It cannot be handed in any more: how things stand is said by the server.
        forgetHandedIn(seat.seat);
        if (!over) report.current.onLook();
      }
    };
    void tell();
    addEventListener("online", tell);
    const timer = setInterval(tell, AGAIN);
    return () => {
      over = true;
      removeEventListener("online", tell);
      clearInterval(timer);
    };
  }, [outbox, seat.seat]);
  return (
    <Sheet title={t`Handed in on this device.`}>
      <p>{t`There is no connection just now. Your test goes to your teacher as soon as there is one, with the time at which you handed it in.`}</p>
      <p className="mt-3 text-base text-graphite">{LEAVE_OPEN()}</p>
      <Here outbox={outbox} />
      {onGoOn && (
        <p className="mt-8">
          <BigButton
            onClick={() => {
              forgetHandedIn(seat.seat);
              onGoOn();
            }}
          >{t`Go on working`}</BigButton>
        </p>
      )}
    </Sheet>
  );
}
