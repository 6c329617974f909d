import { type ReactNode, useState } from "react";
import { Button } from "./button";
import { Dialog } from "./dialog";

type Props = {
  /** What the button says, that asks. */
  name: string;
  /** What is asked. */
  title: string;
  /** What will be lost, and for whom. */
  says: string;
  /** What is done then, as it stands on the second button. */
  does: string;
  onSure: () => void;
  label?: string;
  busy?: boolean;
  children?: ReactNode;
};

/** For what cannot be undone: says what will be lost before it is. */
export function AskFirst({ name, title, says, does, onSure, label, busy = false, children }: Props) {
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button variant="quiet" onClick={() => setAsking(true)} aria-label={label}>
        {name}
      </Button>
      <Dialog open={asking} onClose={() => setAsking(false)} title={title} says={says}>
        {children}
        <Button
          variant="main"
          disabled={busy}
          onClick={() => {
            setAsking(false);
            onSure();
          }}
        >
          {does}
        </Button>
      </Dialog>
    </>
  );
}
