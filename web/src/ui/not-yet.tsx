import type { ReactNode } from "react";
import { Refused } from "../api/client";
import { Problem } from "./field";
import { Empty } from "./split-page";

const NOT_POSSIBLE = 409;

type Props = { error: Error | null; title: string; action: ReactNode; children?: ReactNode };

/** A page that the server says there is nothing for yet. Any other error (the school cannot be reached, somebody is
 * signed out) says nothing of what there is, and is shown as what it is. */
export function NotYet({ error, title, action, children }: Props) {
  if (!error) return null;
  if (!(error instanceof Refused) || error.status !== NOT_POSSIBLE) return <Problem error={error} />;
  return (
    <Empty title={title} action={action}>
      {error.message} {children}
    </Empty>
  );
}
