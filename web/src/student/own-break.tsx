import { t } from "@lingui/core/macro";
import { useEffect, useState } from "react";
import { useTimeUp } from "../ui/countdown";
import { durationOf } from "../ui/words";
import { beginBreak, endBreak, type SeatPage } from "./api";
import { BigButton, Sheet } from "./parts";

type Props = { seat: SeatPage; onSeat: (seat: SeatPage) => void; onLook: () => void };

/** Leads into a break, where the student's needs allow one. What was answered goes out first. */
export function TakeABreak({ seat, onSeat, ready }: Omit<Props, "onLook"> & { ready: () => Promise<boolean> }) {
  const [says, setSays] = useState("");
  if (seat.break_seconds_left === 0) return null;
  const take = async () => {
    setSays("");
    if (!(await ready())) return setSays(t`No connection just now: a break can begin as soon as there is one.`);
    await beginBreak().then(onSeat, (error: Error) => setSays(error.message));
  };
  return (
    <>
      <button type="button" onClick={take} className="min-h-8 shrink-0 underline">
        {t`Take a break`}
      </button>
      {says && (
        <span role="alert" className="basis-full text-ochre">
          {says}
        </span>
      )}
    </>
  );
}

/** On a break of one's own: how much of it is left, and the way back. */
export function OwnBreak({ seat, onSeat, onLook }: Props) {
  const left = useSecondsLeft(seat.break_seconds_left);
  useTimeUp(left, onLook);
  const [says, setSays] = useState("");
  return (
    <Sheet title={t`A break.`}>
      <p>
        {seat.seconds_left === null
          ? t`Your questions wait for you.`
          : t`Your time stands still, and your questions wait for you.`}
      </p>
      <p className="mt-3">
        {t`Left of your breaks:`} <strong>{durationOf(left)}</strong>
      </p>
      {says && (
        <p role="alert" className="mt-4 text-ochre">
          {says}
        </p>
      )}
      <p className="mt-8">
        <BigButton
          look="main"
          onClick={() => endBreak().then(onSeat, (error: Error) => setSays(error.message))}
        >{t`Go on`}</BigButton>
      </p>
    </Sheet>
  );
}

/** Counted on by this page from what the server said, and begun anew with its next word. */
function useSecondsLeft(from: number): number {
  const [end, setEnd] = useState(() => performance.now() + from * 1000);
  const [, tick] = useState(0);
  useEffect(() => setEnd(performance.now() + from * 1000), [from]);
  useEffect(() => {
    const timer = setInterval(() => tick((n) => n + 1), 500);
    return () => clearInterval(timer);
  }, []);
  return Math.max(0, Math.ceil((end - performance.now()) / 1000));
}
