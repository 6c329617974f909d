import { plural, t } from "@lingui/core/macro";
import { useQueryClient } from "@tanstack/react-query";
import { Button } from "../ui/button";
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
        <div className="mx-1 mb-2 border-s-2 border-ochre bg-ochre-wash px-2 py-1.5">
          <strong className="block">{t`${waiting} not sent yet`}</strong>
          <span className="block text-graphite">
            {safe
              ? trouble === "signed out"
                ? t`You are signed out. Kept in this browser.`
                : t`No connection. Kept in this browser.`
              : t`This browser keeps nothing: leave this tab open.`}
          </span>
          {trouble === "signed out" ? (
            <Button
              variant="quiet"
              onClick={() => client.invalidateQueries({ queryKey: ["me"] })}
            >{t`sign in again`}</Button>
          ) : (
            <Button variant="quiet" onClick={() => outbox.sendNow()}>{t`send now`}</Button>
          )}
        </div>
      )}
      {refused.length > 0 && (
        <div className="mx-1 mb-2 border-s-2 border-ochre bg-ochre-wash px-2 py-1.5">
          <strong className="block">{t`${plural(refused.length, { one: "# change", other: "# changes" })} not taken`}</strong>
          <ul>
            {refused.slice(0, 3).map((entry) => (
              <li key={entry.id} className="wrap-anywhere">
                {entry.name}: {entry.refusal}
              </li>
            ))}
          </ul>
          <Button variant="quiet" onClick={() => outbox.retry()}>{t`try again`}</Button>
          <Button variant="quiet" onClick={() => outbox.dropRefused()}>{t`drop it`}</Button>
        </div>
      )}
    </div>
  );
}
