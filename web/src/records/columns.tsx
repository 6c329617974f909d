import { t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { byName, dayOf } from "../ui/words";
import type { ClassRecord } from "./use-record";

type Props = { record: ClassRecord; hidden: number[]; onHidden: (hidden: number[]) => void };

/** Which sittings stand in the record as it is looked at; averages stay over all that count. */
export function Columns({ record, hidden, onHidden }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>{hidden.length ? t`Columns, ${hidden.length} hidden` : t`Columns`}</Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        title={t`Columns`}
        says={t`Only what is shown changes; averages stay over all that counts.`}
      >
        {record.sittings.map((sitting) => (
          <Checkbox
            key={sitting.id}
            label={`${sitting.title}, ${dayOf(sitting.held_on)}`}
            checked={!hidden.includes(sitting.id)}
            onChange={(on) => onHidden(on ? hidden.filter((id) => id !== sitting.id) : [...hidden, sitting.id])}
          />
        ))}
      </Dialog>
    </>
  );
}

/** The record as it is looked at: without hidden sittings, only students under a cut where one is chosen, in order. */
export function lookedAt(record: ClassRecord, hidden: number[], below: number | null, order = "desk"): ClassRecord {
  const kept = record.sittings
    .map((sitting, at) => ({ one: sitting, at }))
    .filter(({ one }) => !hidden.includes(one.id));
  return {
    ...record,
    sittings: kept.map(({ one }) => one),
    students: record.students
      .filter((student) => below === null || (student.average !== null && student.average < below / 100))
      .map((student) => ({ ...student, cells: kept.map(({ at }) => student.cells[at] ?? null) }))
      .sort((a, b) =>
        order === "average"
          ? (a.average ?? 2) - (b.average ?? 2)
          : order === "name"
            ? byName(a.name, b.name)
            : a.desk - b.desk,
      ),
  };
}
