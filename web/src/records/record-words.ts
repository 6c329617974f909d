import { t } from "@lingui/core/macro";
import { inWords } from "../ui/code-words";
import { amount, percent } from "../ui/words";
import type { ClassRecord, RecordCell, RecordStudent } from "./use-record";

export const SHOWN = { share: t`in percent`, marks: t`in marks` } as const;
export const ON_SCALE = { scale: t`on the scale`, ...SHOWN } as const;
export type Shown = keyof typeof ON_SCALE;
type TermCell = RecordStudent["terms"][number];
const LOW = 0.5;

export const marksIn = (cell: RecordCell) =>
  t`${amount(cell.total, (cell.total ?? 0) % 1 ? 1 : 0)} of ${amount(cell.of, (cell.of ?? 0) % 1 ? 1 : 0)}`;

/** Whether it is to be seen at a glance: the lowest step of the scale, or under half of the marks. */
export function isLow(record: ClassRecord, share: number | null, said: string): boolean {
  if (share === null) return false;
  return said ? said === record.rules.scale_steps.at(-1)?.word : share < LOW;
}

/** Where a student stands in a term, in words. */
export function termWords(cell: TermCell | undefined, shown: Shown): string {
  if (!cell || cell.share === null) return "–";
  return `${cell.carried ? "→ " : ""}${shown === "scale" && cell.said ? cell.said : percent(cell.share)}${cell.set ? t` T` : ""}`;
}

/** What stands in a cell, in words. */
export function wordsOf(cell: RecordCell | null | undefined, shown: Shown): string {
  if (!cell) return "–";
  if (cell.share === null) return inWords(cell.word);
  if (shown === "scale" && cell.said) return cell.said;
  return shown === "marks" ? marksIn(cell) : percent(cell.share);
}
