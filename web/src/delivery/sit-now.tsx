import { t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field } from "../ui/field";
import type { SeatLine, Sitting, SittingInHand } from "./use-sitting";

type Props = { sitting: SittingInHand; page: Sitting; seat: SeatLine; label: string };

/** Lets one student sit it by themselves. Where classmates have their results already, first asks with which paper. */
export function SitNow({ sitting, page, seat, label }: Props) {
  const [asking, setAsking] = useState(false);
  const others = page.forms.filter((form) => form !== seat.form);
  const [form, setForm] = useState(others[0] ?? seat.form);
  const known = page.state === "released" || page.rules.results !== "released";
  const go = (with_?: string) => {
    setAsking(false);
    sitting.act(seat.id, { act: "sit now", ...(with_ && { form: with_ }) });
  };
  return (
    <>
      <Button onClick={() => (known ? setAsking(true) : go())} aria-label={label}>{t`Sit now`}</Button>
      <Dialog
        open={asking}
        onClose={() => setAsking(false)}
        title={t`${seat.name} sits it late`}
        says={t`Classmates have seen their results, and perhaps the right answers of this paper.`}
      >
        {page.forms.length > 1 ? (
          <Field label={t`Which form they get`} hint={t`Another form has the same questions in another order.`}>
            {(id) => (
              <Choice id={id} value={form} onChange={(event) => setForm(event.target.value)}>
                {page.forms.map((form) => (
                  <option key={form} value={form}>
                    {t`Form ${form}${form === seat.form ? t`, the one planned` : ""}`}
                  </option>
                ))}
              </Choice>
            )}
          </Field>
        ) : (
          <p className="mb-4">{t`The test has no other form. For another paper, freeze an equivalent edition and give that one as a sitting of its own.`}</p>
        )}
        <Button variant="main" onClick={() => go(form)}>{t`Let them sit it`}</Button>
      </Dialog>
    </>
  );
}
