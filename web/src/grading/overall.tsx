import { t } from "@lingui/core/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { Button } from "../ui/button";
import { Disclosure } from "../ui/disclosure";
import { Field, TextArea } from "../ui/field";
import { overallSlot } from "./senders";
import type { AnswerPage, OverallToSend } from "./types";

const PAUSE = 500;

type Props = { sittingId: number; item: string; answer: AnswerPage };

/** What a student is told about all of their work; in this browser's store with every key. */
export function Overall({ sittingId, item, answer }: Props) {
  const { number, overall, overall_id, overall_by, work } = answer;
  const client = useQueryClient();
  const outbox = useOutbox();
  useOutboxState();
  const slot = overallSlot(sittingId, number);
  const waiting = outbox.newest<OverallToSend>("overall", slot);
  const [text, setText] = useState(waiting?.body.text ?? overall);
  const write = (text: string, seen = waiting?.body.seen ?? overall_id) => {
    setText(text);
    const body: OverallToSend = { sitting: sittingId, number, text, seen, item, work };
    outbox.put("overall", slot, t`the whole work of no. ${number}`, body, { pause: PAUSE });
  };
  // A colleague wrote at the same time: theirs is asked for, and nothing is covered until somebody chooses.
  const refused = waiting?.refusal !== undefined;
  useEffect(() => {
    if (refused) void client.invalidateQueries({ queryKey: ["answer", sittingId] });
  }, [refused, client, sittingId]);
  const choose = (chosen: string) => {
    outbox.drop("overall", slot);
    if (chosen === overall) setText(overall);
    else write(chosen, overall_id);
  };
  const mine = text.trim();
  return (
    <div className="mt-4">
      <Disclosure name={t`About all of their work`} remark={text} open={text !== ""}>
        {refused && overall_by && (
          <section
            role="alert"
            aria-label={t`Two words on the whole work`}
            className="mb-3 border-s-2 border-ochre bg-ochre-wash px-3 py-2 text-sm"
          >
            <p className="mb-2">
              {t`${overall_by} wrote meanwhile: “${overall}” Yours is kept in this browser. Which is the student told?`}
            </p>
            <Button onClick={() => choose(overall)}>{t`Theirs`}</Button>{" "}
            <Button onClick={() => choose(mine)}>{t`Yours`}</Button>{" "}
            <Button onClick={() => choose(`${overall}\n\n${mine}`)}>{t`Both`}</Button>
          </section>
        )}
        <Field label={t`To their student, on the whole`} hint={t`At the head of their result. Kept as you type.`}>
          {(id) => (
            <TextArea id={id} rows={2} maxLength={4000} value={text} onChange={(event) => write(event.target.value)} />
          )}
        </Field>
      </Disclosure>
    </div>
  );
}
