import { t } from "@lingui/core/macro";
import { useState } from "react";
import { handIn, type SeatPage } from "./api";
import type { Outbox } from "./outbox";

/** Handing in: everything given goes out first, and what keeps it from being handed in is said. */
export function useHandIn(outbox: Outbox, onSeat: (seat: SeatPage) => void) {
  const [says, setSays] = useState<string | null>(null);
  const finish = async () => {
    setSays(null);
    if (!(await outbox.flush())) {
      setSays(
        t`No connection just now. Your answers are safe on this device and go out as soon as it is back; then hand in again.`,
      );
      return;
    }
    try {
      onSeat(await handIn());
    } catch (error) {
      setSays((error as Error).message);
    }
  };
  return { says, finish };
}
