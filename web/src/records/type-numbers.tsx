import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { Button } from "../ui/button";
import { CellField } from "../ui/cell-field";
import { type Place, useCells } from "../ui/cells";
import { Problem, TextInput } from "../ui/field";
import {
  backFrom,
  changeBy,
  columnsOf,
  countOf,
  isNothing,
  type Numbers,
  nothing,
  onItsWay,
  pasted,
  readNumber,
  together,
  typedNow,
} from "./numbers";
import type { Typing } from "./record-grid";
import { type NumbersToSend, numbersSlot } from "./sender";
import type { ClassRecord } from "./use-record";

/** Numbers typed along the grid of a record: the cell that is typed in, and the bar above with the reason. */
export function useTypedNumbers(record: ClassRecord): { typing: Typing; bar: React.ReactNode } {
  const columns = columnsOf(record);
  const [reason, setReason] = useState("");
  const [refusal, setRefusal] = useState<{ message: string; problems: string[] } | null>(null);
  const [past, setPast] = useState<Numbers[]>([]);
  // What was typed and is not on the server yet waits in this browser, also when the page is closed.
  const outbox = useOutbox();
  const { trouble } = useOutboxState();
  const mine = outbox.of<NumbersToSend>("numbers").filter((entry) => entry.body.classId === record.class_id);
  const waiting = mine.reduce((sum, entry) => together(sum, entry.body.numbers), nothing());
  const refused = mine.find((entry) => entry.refusal);
  const [sent, setSent] = useState(false);
  const keep = (change: Numbers, undone = false) => {
    if (isNothing(change)) return;
    if (!undone) setPast((steps) => [...steps, backFrom(change, record)]);
    setSent(true);
    const slot = numbersSlot(record.class_id, reason);
    outbox.put("numbers", slot, record.class_name, { classId: record.class_id, reason, numbers: change });
  };
  const undo = () => {
    const last = past.at(-1);
    if (!last || isNothing(last)) return;
    setPast((steps) => steps.slice(0, -1));
    keep(last, true);
  };
  const said = reason.trim() !== "";
  const take = (typed: string, at: Place): string | null => {
    const [student, column] = [record.students[at.row], columns[at.column]];
    if (!student || !column || typed === typedNow(student, column)) return null;
    const entry = readNumber(typed, record, student, column);
    if ("refused" in entry) return entry.refused;
    const change = changeBy(entry, student, column);
    if (isNothing(change)) return null;
    // What is worked out again needs no reason, and neither has who was away.
    if (!said && ("share" in entry || "marks" in entry)) return t`first the reason, above`;
    keep(change);
    return null;
  };
  const cells = useCells({
    rows: record.students.length,
    columns: columns.length,
    first: () => ({ row: 0, column: Math.min(record.terms.length, columns.length - 1) }),
    take,
    waits: true,
  });
  const { at, draft, input, after } = cells;
  const [student, column] = [record.students[at.row], columns[at.column]];
  const onKey = (event: React.KeyboardEvent) => {
    const undoing = (event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z";
    if (undoing || (draft === null && (event.key === "Delete" || event.key === "Backspace"))) {
      event.preventDefault();
      if (undoing && draft !== null) cells.drop();
      else if (undoing) undo();
      else cells.take("");
    } else cells.onKey(event);
  };
  const onPaste = (event: React.ClipboardEvent) => {
    event.preventDefault();
    cells.drop();
    const found = pasted(event.clipboardData.getData("text"), at, record);
    const gives = (found.change.totals?.length ?? 0) + (found.change.standings?.length ?? 0) > 0;
    if (!said && gives)
      return setRefusal({ message: t`First the reason: it stays with every number that is set.`, problems: [] });
    const problems = found.refused.slice(0, 8);
    setRefusal(
      problems.length > 0
        ? {
            message: t`${plural(found.refused.length, { one: "# cell", other: "# cells" })} not taken; the rest is in.`,
            problems,
          }
        : null,
    );
    keep(found.change);
  };
  const field = student && column && (
    <CellField
      cells={cells}
      label={`${student.name}, ${column.name}, ${column.kind === "term" ? t`in percent` : t`in marks`}`}
      now={typedNow(student, column)}
      onType={cells.type}
      onKey={onKey}
      onPaste={onPaste}
    />
  );
  const bar = (
    <div className="mb-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <label className="flex min-w-72 flex-1 items-center gap-3">
          <span className="font-semibold whitespace-nowrap">{t`The reason`}</span>
          <TextInput
            autoFocus
            maxLength={300}
            placeholder={t`it stays with every number you set`}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && input.current?.focus()}
          />
        </label>
        <span role="status" className="text-sm text-graphite">
          {isNothing(waiting)
            ? sent && t`kept`
            : refused
              ? ""
              : trouble === "none"
                ? t`keeping…`
                : t`${plural(countOf(waiting), { one: "# number", other: "# numbers" })} not sent yet: kept in this browser`}
        </span>
        <Button disabled={past.length === 0 || !isNothing(waiting)} onClick={undo}>{t`Undo`}</Button>
      </div>
      <p ref={after} tabIndex={-1} className="mt-1 text-xs text-graphite">
        <Trans>
          Marks in a sitting, percent in a term, 75% in either; <strong>A</strong> absent, <strong>E</strong> excused,
          an empty cell is worked out again. Enter goes down, Tab across, Ctrl Z takes back; paste a column or a block.
        </Trans>
      </p>
      <Problem
        error={refused ? { message: t`${refused.refusal ?? ""} What you typed is still here.`, problems: [] } : null}
      />
      {refused && (
        <p className="mt-2 flex gap-3">
          <Button variant="main" onClick={() => outbox.retry()}>{t`Keep it now`}</Button>
          <Button onClick={() => outbox.dropRefused()}>{t`Drop it`}</Button>
        </p>
      )}
      <Problem error={refusal} />
    </div>
  );
  const typing: Typing = {
    at,
    field,
    pick: (place) => {
      if (cells.take()) cells.go(place);
    },
    onItsWay: (place) => {
      const [student, column] = [record.students[place.row], columns[place.column]];
      return student && column ? onItsWay(waiting, student, column) : null;
    },
  };
  return { typing, bar };
}
