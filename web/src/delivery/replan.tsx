import { t } from "@lingui/core/macro";
import { useState } from "react";
import type { Plan } from "../api/plan";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { PlanForm } from "./plan-form";
import type { Sitting, SittingInHand } from "./use-sitting";

type Props = { sitting: SittingInHand; page: Sitting; onClose: () => void };

/** Another time, or other rules; once a sitting is open, its end and its name. */
export function Replan({ sitting, page, onClose }: Props) {
  const { planned_for, closes_at, opens_itself, own_name, rules } = page;
  const [plan, setPlan] = useState<Plan>({ planned_for, closes_at, opens_itself, name: own_name, rules });
  const begun = page.opened_at !== null;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={begun ? t`Move the end` : t`Change the plan`}
      says={
        begun
          ? t`The students see the new end at once, and the change is on record.`
          : t`Until it opens everything can change.`
      }
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          sitting.changePlan(plan).then(onClose, () => {});
        }}
      >
        <PlanForm plan={plan} onChange={setPlan} begun={begun} />
        <Problem error={sitting.error} />
        <Button type="submit" variant="main" disabled={sitting.busy}>{t`Keep it so`}</Button>
      </form>
    </Dialog>
  );
}
