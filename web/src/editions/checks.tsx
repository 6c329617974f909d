import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Region } from "../ui/split-page";

type Check = Schemas["Check"];
type Props = { checks: Check[]; onPlan: () => void };

/** What stops the test and what a careful colleague would point at, each with the way there. */
export function Checks({ checks, onPlan }: Props) {
  const stops = checks.filter((check) => check.stops);
  const looks = checks.filter((check) => !check.stops);
  return (
    <>
      {checks.length === 0 && <p className="py-3">{t`● Nothing to mend. It can be frozen as it is.`}</p>}
      {stops.length > 0 && (
        <Region name={t`Before it can be frozen`}>
          <CheckList checks={stops} sign="◆" onPlan={onPlan} />
        </Region>
      )}
      {looks.length > 0 && (
        <Region name={t`Worth a look`}>
          <CheckList checks={looks} sign="◐" onPlan={onPlan} />
        </Region>
      )}
    </>
  );
}

function CheckList({ checks, sign, onPlan }: Props & { sign: string }) {
  return (
    <ul>
      {checks.map((check) => (
        <li key={check.says} className="flex items-baseline gap-3 border-b border-hairline py-2">
          <span className={sign === "◆" ? "text-clay" : "text-ochre"}>{sign}</span>
          <span className="min-w-0 flex-1">{check.says}</span>
          <Jump check={check} onPlan={onPlan} />
        </li>
      ))}
    </ul>
  );
}

function Jump({ check, onPlan }: { check: Check; onPlan: () => void }) {
  if (check.where === "item") return <ButtonLink variant="quiet" to={`/bank/${check.at}`}>{t`open it`}</ButtonLink>;
  if (check.where === "plan") return <Button variant="quiet" onClick={onPlan}>{t`to the plan`}</Button>;
  if (check.where === "section")
    return (
      <Button
        variant="quiet"
        onClick={() => document.getElementById(`row-${check.at}`)?.scrollIntoView()}
      >{t`show it`}</Button>
    );
  return null;
}
