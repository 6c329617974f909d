import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import type { ResultLine, Results } from "../grading/use-results";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { Menu } from "../ui/menu";
import { ReasonField } from "../ui/reason-field";
import { amount } from "../ui/words";

type Props = { results: Results; student: ResultLine };

/** What can be done with the result of one student. */
export function StudentMenu({ results, student }: Props) {
  const [asking, setAsking] = useState<"total" | "out" | null>(null);
  const choices = [
    { name: t`Set the total…`, onChoose: () => setAsking("total") },
    student.set_reason && { name: t`Work the total out again`, onChoose: () => results.takeTotalBack(student.seat) },
    student.state === "handed in" &&
      !student.out_reason && {
        name: t`Leave out of the figures…`,
        onChoose: () => setAsking("out"),
      },
    student.out_reason && { name: t`Into the figures again`, onChoose: () => results.takeIn(student.seat) },
    student.total !== null &&
      !student.sees && {
        name: t`Release to them alone`,
        onChoose: () => results.release({ marks: true, answers: false, seats: [student.seat] }),
      },
    student.total_held && {
      name: t`Show them the total so far`,
      says: plural(student.waiting, { one: "# answer waits", other: "# answers wait" }),
      onChoose: () =>
        results.release({ marks: true, answers: results.page?.released?.answers ?? false, seats: [student.seat] }),
    },
    student.sees && { name: t`Take the release back`, onChoose: () => results.withdraw([student.seat]) },
  ].filter((choice) => typeof choice === "object");
  return (
    <>
      <Menu
        trigger={
          <Button variant="quiet" aria-label={t`More for ${student.name}`}>
            …
          </Button>
        }
        choices={choices}
      />
      {asking && (
        <WithReason
          title={asking === "total" ? t`The total of ${student.name}` : t`Leave ${student.name} out of the figures?`}
          says={
            asking === "total"
              ? t`Worked out it is ${amount(student.earned === null ? null : student.earned - student.lost)} of ${amount(student.of)}. What you set stands until you take it back.`
              : t`Their answers count in no statistic of this sitting. Their own result stays.`
          }
          total={asking === "total" ? (student.total ?? 0) : null}
          onClose={() => setAsking(null)}
          onDo={(reason, total) =>
            total === null ? results.leaveOut(student.seat, reason) : results.setTotal(student.seat, total, reason)
          }
        />
      )}
    </>
  );
}

type WithReasonProps = {
  title: string;
  says: string;
  /** What is set; null where nothing is. */
  total: number | null;
  onClose: () => void;
  onDo: (reason: string, total: number | null) => Promise<unknown>;
};

function WithReason({ title, says, total, onClose, onDo }: WithReasonProps) {
  const [value, setValue] = useState(total);
  const [reason, setReason] = useState("");
  const [problem, setProblem] = useState<unknown>(null);
  return (
    <Dialog open onClose={onClose} title={title} says={says}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onDo(reason, value).then(onClose, setProblem);
        }}
      >
        {total !== null && (
          <Field label={t`Total`}>
            {(id) => (
              <TextInput
                id={id}
                type="number"
                className="max-w-28"
                required
                min={0}
                step={0.5}
                value={value ?? ""}
                onChange={(event) => setValue(event.target.valueAsNumber)}
              />
            )}
          </Field>
        )}
        <ReasonField value={reason} hint={t`It stays with the result, for whoever asks.`} onChange={setReason} />
        <Problem error={problem} />
        <Button type="submit" variant="main">
          {total !== null ? t`Set it` : t`Leave them out`}
        </Button>
      </form>
    </Dialog>
  );
}
