import { t } from "@lingui/core/macro";
import { useState } from "react";
import { BigButton } from "../student/parts";
import { ownCalendar } from "./api";

/** The address under which a student's own calendar reads what they are told of; made when it is asked for. */
export function OwnCalendar() {
  const [address, setAddress] = useState("");
  const [says, setSays] = useState("");
  const ask = (anew: boolean) =>
    ownCalendar(anew).then(
      (line) => {
        setAddress(line.address);
        setSays(anew ? t`The old address leads nowhere now.` : "");
      },
      (error: Error) => setSays(error.message),
    );
  return (
    <section className="mt-6">
      <h2 className="text-sm tracking-widest text-graphite uppercase">{t`Your calendar`}</h2>
      {address ? (
        <>
          <p className="mt-2">{t`Give this address to the calendar on your phone as one to subscribe to. Keep it to yourself: whoever knows it sees when you have a test.`}</p>
          <p dir="ltr" className="my-2 border border-edge p-2 font-mono text-sm wrap-anywhere">
            {address}
          </p>
          <button type="button" className="py-2 underline" onClick={() => ask(true)}>{t`Make a new address`}</button>
        </>
      ) : (
        <>
          <p className="my-2">{t`Your tests can stand in the calendar on your phone.`}</p>
          <BigButton onClick={() => ask(false)}>{t`Show me how`}</BigButton>
        </>
      )}
      {says && <p role="status">{says}</p>}
    </section>
  );
}
