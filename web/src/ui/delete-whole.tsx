import { t } from "@lingui/core/macro";
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Button } from "./button";
import { Dialog } from "./dialog";
import { Field, Problem, TextInput } from "./field";

type Props = {
  title: string;
  says: string;
  /** What has to be typed. */
  name: string;
  /** What the button says, where it is not deleted. */
  act?: string;
  /** What else is to be chosen. */
  children?: ReactNode;
  remove: (typed: string) => Promise<unknown>;
  onDone: () => void;
  onClose: () => void;
};

/** Asks for a name once more before something goes that nothing brings back. */
export function DeleteWhole({ title, says, name, act, children, remove, onDone, onClose }: Props) {
  const [typed, setTyped] = useState("");
  const deletion = useMutation({ mutationFn: () => remove(typed), onSuccess: onDone });
  return (
    <Dialog open onClose={onClose} title={title} says={says}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          deletion.mutate();
        }}
      >
        {children}
        <Field label={t`Type: ${name}`}>
          {(id) => (
            <TextInput
              id={id}
              required
              autoComplete="off"
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
            />
          )}
        </Field>
        <Problem error={deletion.error} />
        <Button type="submit" variant="main" disabled={deletion.isPending}>
          {act ?? t`Delete for good`}
        </Button>
      </form>
    </Dialog>
  );
}
