import { plural, t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";
import { durationOf } from "../ui/words";
import type { SeatPage } from "./api";

const SOON = 120;
const LOOK_AFTER = 2500;
/** Said when so many seconds are left, to whoever does not see the clock. */
const SAID_AT = [600, 300, 120, 60];

/** Time left, counted on from what the server said; it can be hidden until the last two minutes. */
export function TimeLeft({ seat, onUp }: { seat: SeatPage; onUp: () => void }) {
  const [hidden, setHidden] = useState(() => localStorage.getItem("verso.time.hidden") === "1");
  const left = useCountdown(seat);
  const said = useSaid(left);
  const up = left === 0;
  const latest = useRef(onUp);
  latest.current = onUp;
  useEffect(() => {
    if (!up) return;
    const timer = setTimeout(() => latest.current(), LOOK_AFTER);
    return () => clearTimeout(timer);
  }, [up]);
  if (left === null) return null;
  const shown = !hidden || left <= SOON;
  return (
    <>
      <span role="status" className="sr-only">
        {said !== null &&
          (shown || said <= SOON) &&
          plural(said / 60, { one: "# minute left", other: "# minutes left" })}
      </span>
      <button
        type="button"
        aria-pressed={hidden}
        title={hidden ? t`Show the time left` : t`Hide the time left`}
        onClick={() => {
          localStorage.setItem("verso.time.hidden", hidden ? "0" : "1");
          setHidden(!hidden);
        }}
        className={`min-h-8 shrink-0 font-semibold ${left <= SOON ? "text-clay" : ""}`}
      >
        {shown ? (
          <>
            <span className="sr-only">{t`time left:`} </span>
            {durationOf(left)}
          </>
        ) : (
          <span className="font-normal text-graphite">{t`show time`}</span>
        )}
      </button>
    </>
  );
}

/** The last of those moments that was passed while one was here; null before, and where time was added since. */
function useSaid(left: number | null): number | null {
  const before = useRef(left);
  const [said, setSaid] = useState<number | null>(null);
  useEffect(() => {
    const was = before.current;
    before.current = left;
    if (left === null || was === null) return;
    if (left > was) setSaid(null);
    const passed = SAID_AT.findLast((moment) => was > moment && left <= moment);
    if (passed !== undefined) setSaid(passed);
  }, [left]);
  return said;
}

/** Whole seconds left; null where there is no end. This device’s clock is never asked what time it is. */
function useCountdown(seat: SeatPage): number | null {
  const [end, setEnd] = useState<number | null>(null);
  const [, tick] = useState(0);
  useEffect(() => {
    setEnd(seat.seconds_left === null ? null : performance.now() + seat.seconds_left * 1000);
  }, [seat]);
  useEffect(() => {
    if (end === null) return;
    const timer = setInterval(() => tick((n) => n + 1), 500);
    return () => clearInterval(timer);
  }, [end]);
  return end === null ? null : Math.max(0, Math.ceil((end - performance.now()) / 1000));
}
