import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { NumberInput } from "../ui/number-input";
import { ReasonField } from "../ui/reason-field";
import { SegmentedControl } from "../ui/segmented-control";
import { namesIn } from "../ui/words";
import type { Fill, Results, ResultsPage } from "./use-results";

type Props = { results: Results; page: ResultsPage; onClose: () => void };
const WAYS: Record<Fill["missing"], string> = {
  leave: t`Leave them`,
  absent: t`Absent`,
  excused: t`Excused`,
  total: t`A total`,
};

/** Everything that has no mark yet, settled in one go: first what it is, then the deed, with a reason. */
export function EmptyMarks({ results, page, onClose }: Props) {
  const path = { sitting_id: page.sitting };
  const found = useQuery({
    queryKey: ["empty", page.sitting],
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/results/empty", { params: { path } })),
  });
  const [marks, setMarks] = useState<number | null>(null);
  const [total, setTotal] = useState<number | null>(0);
  const [missing, setMissing] = useState<Fill["missing"]>("leave");
  const [reason, setReason] = useState("");
  const empty = found.data;
  const nothing = empty?.waiting.length === 0 && empty.missing.length === 0;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={nothing ? t`Nothing is empty.` : t`Fill what is empty`}
      says={
        nothing
          ? t`Every answer has its mark, and everybody their total.`
          : t`Nothing changes before you say so. Each can be changed again one by one.`
      }
    >
      <Problem error={found.error ?? results.error} />
      {empty && !nothing && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            results.fillEmpty({ waiting: marks, missing, total: total ?? 0, reason }).then(onClose, () => {});
          }}
        >
          {empty.waiting.length > 0 && (
            <p className="flex flex-wrap items-center gap-2 text-sm">
              <NumberInput
                label={t`Marks for each`}
                className="w-20!"
                min={0}
                step={0.5}
                value={marks}
                onChange={setMarks}
              />
              <span className="min-w-0 flex-1">{t`marks for each of ${empty.waiting.map((one) => t`${plural(one.answers, { one: "# answer", other: "# answers" })} to question ${one.number}`).join(", ")} that nobody has marked. Empty leaves them.`}</span>
            </p>
          )}
          {empty.missing.length > 0 && (
            <>
              <p className="mt-3 mb-1 text-sm">
                <Trans>
                  Handed nothing in: <strong>{namesIn(empty.missing)}</strong>
                </Trans>
              </p>
              <SegmentedControl label={t`Who handed nothing in`} value={missing} options={WAYS} onChange={setMissing} />
              {missing === "total" && (
                <p className="mt-2 flex items-center gap-2 text-sm">
                  <NumberInput
                    label={t`Total for each`}
                    className="w-20!"
                    min={0}
                    step={0.5}
                    value={total}
                    onChange={setTotal}
                  />
                  {t`marks for each of them`}
                </p>
              )}
            </>
          )}
          <ReasonField value={reason} hint={t`It stays with the results.`} onChange={setReason} />
          <Button
            type="submit"
            variant="main"
            disabled={results.busy || (marks === null && missing === "leave")}
          >{t`Fill it`}</Button>
        </form>
      )}
    </Dialog>
  );
}
