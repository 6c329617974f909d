import { useState } from "react";
import { Refused } from "../api/client";
import { handIn, type SeatPage } from "./api";
import { sinceHeard } from "./heard";
import { keepHandedIn } from "./on-this-device";
import type { Outbox } from "./outbox";

/** Handing in: everything given goes out first, and what keeps it from being handed in is said. Without a connection it
 * is handed in on this device, and sent as soon as there is one. */
export function useHandIn(outbox: Outbox, seat: number, onSeat: (seat: SeatPage) => void, onHandedInHere: () => void) {
  const [says, setSays] = useState<string | null>(null);
  const finish = async () => {
    setSays(null);
    const when = sinceHeard();
    const sent = await outbox.flush();
    // Why it is refused stands where answers are.
    if (outbox.refusal) return;
    try {
      if (sent) return onSeat(await handIn(when));
    } catch (error) {
      if (!isUnreached(error)) return setSays((error as Error).message);
    }
    keepHandedIn(seat, when);
    onHandedInHere();
  };
  return { says, finish };
}

/** Whether nobody answered, or only what stands before the server. */
export const isUnreached = (error: unknown): boolean =>
  !(error instanceof Refused) || error.status === 0 || error.status >= 500;
