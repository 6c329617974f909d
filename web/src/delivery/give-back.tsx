import { t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, TextArea, TextInput } from "../ui/field";

type Props = {
  name: string;
  /** Whether there is an end, so that it may have to be moved. */
  timed: boolean;
  onClose: () => void;
  onGive: (minutes: number, comment: string) => void;
};

/** Work goes back to its student, to go on where they were or to revise what the teacher says. */
export function GiveBack({ name, timed, onClose, onGive }: Props) {
  const [minutes, setMinutes] = useState("");
  const [comment, setComment] = useState("");
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Give it back to ${name}?`}
      says={t`They go on where they were, and hand in again. A mark stays while its answer does.`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onGive(Number(minutes) || 0, comment);
          onClose();
        }}
      >
        <Field label={t`What to revise`} hint={t`They read it above their questions. Empty: they simply go on.`}>
          {(id) => (
            <TextArea
              id={id}
              rows={2}
              maxLength={500}
              value={comment}
              onChange={(event) => setComment(event.target.value)}
            />
          )}
        </Field>
        {timed && (
          <Field label={t`Minutes from now`} hint={t`Where their time is over, say how long they get.`}>
            {(id) => (
              <TextInput
                id={id}
                type="number"
                className="max-w-28"
                min={0}
                max={600}
                value={minutes}
                onChange={(event) => setMinutes(event.target.value)}
              />
            )}
          </Field>
        )}
        <Button type="submit" variant="main">{t`Give it back`}</Button>
      </form>
    </Dialog>
  );
}
