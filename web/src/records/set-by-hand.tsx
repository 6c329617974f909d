import { t } from "@lingui/core/macro";
import { useState } from "react";
import { api, read } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { inWords } from "../ui/code-words";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { ReasonField } from "../ui/reason-field";
import { amount, percent } from "../ui/words";
import { type ClassRecord, type RecordStudent, useRecordChange } from "./use-record";

/** What is to be set by hand: a total in a sitting, or where a student stands in a term. */
export type ByHand = { student: RecordStudent } & ({ sitting: number } | { term: number });

type Props = { record: ClassRecord; what: ByHand; onClose: () => void };

/** One number of the record, set by its teacher over what is worked out; the reason stays with it. */
export function SetByHand({ record, what, onClose }: Props) {
  const { student } = what;
  const now = "sitting" in what ? ofSitting(record, what) : ofTerm(record, what);
  const [value, setValue] = useState(now.value);
  const [reason, setReason] = useState(now.reason);
  const keep = useRecordChange((): Promise<unknown> => {
    const path = { path: { class_id: record.class_id, student_id: student.student } };
    if ("term" in what)
      return read(
        api.PUT("/api/v1/classes/{class_id}/record/terms/{term_id}/{student_id}", {
          params: { path: { ...path.path, term_id: what.term } },
          body: { share: value / 100, reason },
        }),
      );
    return read(
      api.PUT("/api/v1/sittings/{sitting_id}/results/seats/{seat_id}/total", {
        params: { path: { sitting_id: what.sitting, seat_id: now.seat } },
        body: { total: value, reason },
      }),
    );
  }, onClose);
  const back = useRecordChange((): Promise<unknown> => {
    if ("term" in what)
      return read(
        api.DELETE("/api/v1/classes/{class_id}/record/terms/{term_id}/{student_id}", {
          params: { path: { class_id: record.class_id, term_id: what.term, student_id: student.student } },
        }),
      );
    return read(
      api.DELETE("/api/v1/sittings/{sitting_id}/results/seats/{seat_id}/total", {
        params: { path: { sitting_id: what.sitting, seat_id: now.seat } },
      }),
    );
  }, onClose);
  return (
    <Dialog open onClose={onClose} title={`${student.name}, ${now.where}`} says={now.says}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate(undefined);
        }}
      >
        <Field label={now.label}>
          {(id) => (
            <TextInput
              id={id}
              type="number"
              className="max-w-28"
              required
              min={0}
              step="any"
              value={Number.isNaN(value) ? "" : value}
              onChange={(event) => setValue(event.target.valueAsNumber)}
            />
          )}
        </Field>
        <ReasonField value={reason} hint={t`It stays with the record, for whoever asks.`} onChange={setReason} />
        <Problem error={keep.error ?? back.error} />
        <p className="flex flex-wrap gap-3">
          <Button type="submit" variant="main" disabled={keep.isPending}>{t`Set it`}</Button>
          {now.set && (
            <Button disabled={back.isPending} onClick={() => back.mutate(undefined)}>{t`Work it out again`}</Button>
          )}
          {"sitting" in what && <ButtonLink to={`/results/${what.sitting}`}>{t`The results of all`}</ButtonLink>}
        </p>
      </form>
    </Dialog>
  );
}

type Now = {
  where: string;
  says: string;
  label: string;
  value: number;
  reason: string;
  set: boolean;
  seat: number;
};

function ofSitting(record: ClassRecord, what: { student: RecordStudent; sitting: number }): Now {
  const at = record.sittings.findIndex((sitting) => sitting.id === what.sitting);
  const cell = what.student.cells[at];
  return {
    where: record.sittings[at]?.title ?? "",
    says:
      cell?.total === null || !cell
        ? t`Nothing is worked out: ${inWords(cell?.word || "no seat")}.`
        : t`It is ${amount(cell.total)} of ${amount(cell.of)} now.`,
    label: t`Total, in marks`,
    value: cell?.total ?? 0,
    reason: "",
    set: cell?.set ?? false,
    seat: cell?.seat ?? 0,
  };
}

function ofTerm(record: ClassRecord, what: { student: RecordStudent; term: number }): Now {
  const at = record.terms.findIndex((term) => term.id === what.term);
  const cell = what.student.terms[at];
  return {
    where: record.terms[at]?.name ?? "",
    says: cell?.set
      ? t`Set by a teacher: “${cell.set}”`
      : cell?.share === null || !cell
        ? t`There is nothing in this term yet.`
        : cell.carried
          ? t`${percent(cell.share)}, carried over from ${cell.carried}.`
          : t`${percent(cell.share)} is worked out, over ${cell.over}.`,
    label: t`Percent of the marks`,
    value: Math.round(1000 * (cell?.share ?? 0)) / 10,
    reason: cell?.set ?? "",
    set: Boolean(cell?.set),
    seat: 0,
  };
}
