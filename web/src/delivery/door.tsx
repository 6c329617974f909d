import { t } from "@lingui/core/macro";
import { Button, ButtonLink } from "../ui/button";
import { ProgressBar } from "../ui/progress-bar";
import { Region } from "../ui/split-page";
import { rulesInWords } from "./plan-form";
import type { Sitting, SittingInHand } from "./use-sitting";
import { LargeWayIn, WayIn } from "./way-in";

/** How students come in, who stands at the door, and how many have handed in. */
export function Door({ sitting, page }: { sitting: SittingInHand; page: Sitting }) {
  if (page.state === "closed" || page.state === "released") return null;
  const here = page.working + page.handed_in;
  const rules = rulesInWords(page.rules);
  const atTheDoor = page.list.filter((seat) => seat.state === "at the door");
  return (
    <Region name={page.state === "open" ? t`On the board` : t`The door`}>
      <p className="pt-2 text-graphite">
        {page.missing.length > 0 ? (
          <span className="text-clay">
            ◆ {page.missing.join(" ")} <ButtonLink to={`/classes/${page.class_id}`}>{t`Add students`}</ButtonLink>
          </span>
        ) : page.state === "paused" ? (
          t`Paused: answers are kept, and nobody can change them until you go on.`
        ) : (
          page.state !== "open" && t`Students can come to the door already. They see the questions when you open it.`
        )}
      </p>
      <div className="my-3">
        <WayIn sitting={page} />
        <p className="mt-2">
          <LargeWayIn sitting={page} title={page.own_name || page.title} />
        </p>
      </div>
      {rules && <p className="mb-3 text-sm text-graphite">{t`Rules: ${rules}.`}</p>}
      {page.state === "open" && atTheDoor.length > 0 && (
        <p className="mb-3 flex flex-wrap items-center gap-3">
          <Button variant="main" disabled={sitting.busy} onClick={sitting.letAllIn}>{t`Let all in`}</Button>
          <span className="text-ochre">{t`◐ ${atTheDoor.length} at the door`}</span>
        </p>
      )}
      {page.opened_at && (
        <div className="flex items-center gap-4 pb-2">
          <span className="font-serif text-3xl font-semibold">{page.handed_in}</span>
          <span className="shrink-0 text-sm leading-tight text-graphite">
            {t`of ${page.seats} handed in`}
            <br />
            {t`${here} here`}
          </span>
          <ProgressBar done={page.handed_in} of={page.seats} label={t`handed in`} />
        </div>
      )}
    </Region>
  );
}
