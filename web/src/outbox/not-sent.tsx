import { useQueryClient } from "@tanstack/react-query";
import { Button } from "../ui/button";
import { many } from "../ui/words";
import { useOutbox, useOutboxState } from "./use-outbox";

/** What is in this browser and not on the server yet, and what it waits for. Silent while all is well. */
export function NotSent() {
  const outbox = useOutbox();
  const client = useQueryClient();
  const { waiting, refused, trouble, safe } = useOutboxState();
  const away = waiting > 0 && trouble !== "none";
  return (
    <div aria-live="polite" className="text-sm lg:w-full" data-screen-only>
      {away && (
        <div className="mx-1 mb-2 border-l-2 border-ochre bg-ochre-wash px-2 py-1.5">
          <strong className="block">{waiting} not sent yet</strong>
          <span className="block text-graphite">
            {safe
              ? trouble === "signed out"
                ? "You are signed out. Kept in this browser."
                : "No connection. Kept in this browser."
              : "This browser keeps nothing: leave this tab open."}
          </span>
          {trouble === "signed out" ? (
            <Button variant="quiet" onClick={() => client.invalidateQueries({ queryKey: ["me"] })}>
              sign in again
            </Button>
          ) : (
            <Button variant="quiet" onClick={() => outbox.sendNow()}>
              send now
            </Button>
          )}
        </div>
      )}
      {refused.length > 0 && (
        <div className="mx-1 mb-2 border-l-2 border-ochre bg-ochre-wash px-2 py-1.5">
          <strong className="block">{many(refused.length, "change")} not taken</strong>
          <ul>
            {refused.slice(0, 3).map((entry) => (
              <li key={entry.id} className="wrap-anywhere">
                {entry.name}: {entry.refusal}
              </li>
            ))}
          </ul>
          <Button variant="quiet" onClick={() => outbox.retry()}>
            try again
          </Button>
          <Button variant="quiet" onClick={() => outbox.dropRefused()}>
            drop it
          </Button>
        </div>
      )}
    </div>
  );
}
