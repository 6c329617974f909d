import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Divide } from "../classes/divide";
import { amount } from "../ui/words";

/** Groups in the order of what students gained. */
export function GroupByGrowth({ classId, growth }: { classId: number; growth: Schemas["Growth"] }) {
  const ranked = growth.students.filter((student) => student.gain !== null);
  return (
    <Divide
      classId={classId}
      by="growth"
      ranked={ranked.map((one) => ({ ...one, says: t`${amount(100 * (one.gain ?? 0), 0)} points` }))}
      without={growth.students.filter((one) => one.gain === null).map((student) => student.name)}
    />
  );
}
