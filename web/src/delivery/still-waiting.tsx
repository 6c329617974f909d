import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Button } from "../ui/button";
import { inWords } from "../ui/code-words";
import { Line, Region } from "../ui/split-page";
import { SitNow } from "./sit-now";
import type { Sitting, SittingInHand } from "./use-sitting";

/** Who is missing, by name, with the one thing to do about it; after the end, who has not sat it. */
export function StillWaiting({ sitting, page }: { sitting: SittingInHand; page: Sitting }) {
  const closed = page.state === "closed" || page.state === "released";
  const by = (one: Sitting["list"][number], other: Sitting["list"][number]) => one.desk - other.desk;
  const missing = page.list.filter((seat) => seat.state === "expected").sort(by);
  const away = page.list.filter((seat) => seat.state === "absent" || seat.state === "excused").sort(by);
  return (
    <>
      {!closed && page.list.length > 0 && (
        <Region name={missing.length > 0 ? t`Not here yet: ${missing.length}` : t`Everyone is here`}>
          {missing.map((seat) => (
            <Line
              key={seat.id}
              action={
                <Button
                  variant="quiet"
                  onClick={() => sitting.absence(seat.id, "absent")}
                  aria-label={t`${seat.name} is absent`}
                >{t`absent`}</Button>
              }
            >
              <span className="me-2 text-sm text-graphite">{seat.desk}</span>
              <span className="font-serif text-lg">{seat.name}</span>
              {seat.sits_later && <span className="ms-2 text-sm text-graphite">{t`may sit it now`}</span>}
            </Line>
          ))}
        </Region>
      )}
      {away.length > 0 && (
        <Region name={t`Have not sat it: ${away.length}`}>
          {away.map((seat) => (
            <Line
              key={seat.id}
              action={
                <>
                  <Button
                    variant="quiet"
                    onClick={() => sitting.absence(seat.id, seat.state === "absent" ? "excused" : "absent")}
                    aria-label={t`${seat.name} is ${inWords(seat.state === "absent" ? "excused" : "absent")}`}
                  >
                    {seat.state === "absent" ? t`excused` : t`absent`}
                  </Button>
                  {page.opened_at && (
                    <SitNow sitting={sitting} page={page} seat={seat} label={t`${seat.name}: sit now`} />
                  )}
                </>
              }
            >
              <span className="font-serif text-lg">{seat.name}</span>{" "}
              <span className="text-sm text-graphite">{inWords(seat.state)}</span>
            </Line>
          ))}
          {closed && (
            <p className="py-2 text-sm text-graphite">
              <Trans>
                Who sits it now joins with the code <strong>{page.code}</strong> and their pass; for all others it stays
                closed.
              </Trans>
            </p>
          )}
        </Region>
      )}
    </>
  );
}
