import { useState } from "react";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { Disclosure } from "../ui/disclosure";
import { Field, TextArea } from "../ui/field";
import { type OverallToSend, overallSlot } from "./senders";

const PAUSE = 500;

type Props = { sittingId: number; number: number; value: string };

/** What a student is told about all of their work; in this browser's store with every key. */
export function Overall({ sittingId, number, value }: Props) {
  const outbox = useOutbox();
  useOutboxState();
  const slot = overallSlot(sittingId, number);
  const [text, setText] = useState(() => outbox.newest<OverallToSend>("overall", slot)?.body.text ?? value);
  const write = (text: string) => {
    setText(text);
    const body: OverallToSend = { sitting: sittingId, number, text };
    outbox.put("overall", slot, `the whole work of no. ${number}`, body, { pause: PAUSE });
  };
  return (
    <div className="mt-4">
      <Disclosure name="About all of their work" remark={text} open={text !== ""}>
        <Field label="To their student, on the whole" hint="At the head of their result. Kept as you type.">
          {(id) => (
            <TextArea id={id} rows={2} maxLength={4000} value={text} onChange={(event) => write(event.target.value)} />
          )}
        </Field>
      </Disclosure>
    </div>
  );
}
