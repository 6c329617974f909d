import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useAddress } from "../api/address";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import type { Results, ResultsPage } from "./use-results";

type Props = { results: Results; page: ResultsPage; onClose: () => void };

/** Whether students see their results, and how much of them. */
export function Release({ results, page, onClose }: Props) {
  const { host } = useAddress();
  const [marks, setMarks] = useState(page.released?.marks ?? true);
  const [answers, setAnswers] = useState(page.released?.answers ?? false);
  const empty = page.students.filter((student) => student.total === null).length;
  return (
    <Dialog
      open
      onClose={onClose}
      title={page.released ? t`What students see` : t`Let students see their results?`}
      says={t`Each sees their own on their own page, and is told of it. It can be changed and taken back.`}
    >
      <p className="mb-3 text-sm">
        <Trans>
          Their own page: <strong className="wrap-anywhere">{`${host}${page.own_pages}`}</strong>, with their pass. It
          stands on the slips too.
        </Trans>
      </p>
      <Checkbox label={t`With marks and the total; without, in words only`} checked={marks} onChange={setMarks} />
      <Checkbox label={t`With the right answers, and why`} checked={answers} onChange={setAnswers} />
      {page.waiting > 0 && (
        <p className="mt-3 text-sm text-ochre">{t`◐ ${plural(page.waiting, { one: "One answer waits", other: "# answers wait" })} for a mark. Students are told what of theirs is not marked, and see the rest.`}</p>
      )}
      {empty > 0 && (
        <p className="mt-1 text-sm text-graphite">{t`${plural(empty, { one: "# student", other: "# students" })} handed nothing in and see nothing.`}</p>
      )}
      <p className="mt-5 flex flex-wrap gap-3">
        <Button
          variant="main"
          disabled={results.busy}
          onClick={() => {
            results.release({ marks, answers, seats: null });
            onClose();
          }}
        >
          {page.released ? t`Change it` : t`Release to all`}
        </Button>
        {page.students.some((student) => student.sees) && page.rule === "released" && (
          <Button
            onClick={() => {
              results.withdraw(null);
              onClose();
            }}
          >{t`Take it back from all`}</Button>
        )}
      </p>
    </Dialog>
  );
}
