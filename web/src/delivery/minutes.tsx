import { t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, TextInput } from "../ui/field";

type Props = {
  title: string;
  says: string;
  onClose: () => void;
  onGive: (minutes: number) => void;
};

/** So many minutes: one press for the usual ones, any number typed. */
export function Minutes({ title, says, onClose, onGive }: Props) {
  const [typed, setTyped] = useState("");
  const give = (minutes: number) => {
    onGive(minutes);
    onClose();
  };
  return (
    <Dialog open onClose={onClose} title={title} says={says}>
      <div className="mb-4 flex flex-wrap gap-2">
        {[2, 5, 10, 15, 30].map((minutes) => (
          <Button key={minutes} onClick={() => give(minutes)}>
            {t`${minutes} min`}
          </Button>
        ))}
      </div>
      <form
        className="max-w-40"
        onSubmit={(event) => {
          event.preventDefault();
          if (Number(typed)) give(Math.round(Number(typed)));
        }}
      >
        <Field label={t`Or so many minutes`}>
          {(id) => (
            <TextInput
              id={id}
              type="number"
              min={-600}
              max={600}
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
            />
          )}
        </Field>
      </form>
    </Dialog>
  );
}
