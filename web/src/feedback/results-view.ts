import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import type { ResultLine } from "../grading/use-results";
import { inWords } from "../ui/code-words";
import { amount, byName } from "../ui/words";

export const ORDERS = {
  desk: t`by desk`,
  least: t`lowest total first`,
  most: t`highest total first`,
  name: t`by name`,
} as const;
export const BELOW = {
  "": t`any total`,
  "40": t`under 40%`,
  "50": t`under 50%`,
  "60": t`under 60%`,
  "80": t`under 80%`,
};
export type Looking = { order: string; below: string; group: string };

/** Without a total there is no share, and such a student is under no cut and at the end of every order by total. */
const share = (one: ResultLine) => (one.total === null || one.of <= 0 ? null : one.total / one.of);

/** The students as they are looked at: those of a group, under a cut, in an order. */
export function lookedAt(students: ResultLine[], members: ReadonlySet<number> | null, how: Looking): ResultLine[] {
  const cut = Number(how.below) / 100;
  const kept = students.filter(
    (student) =>
      (!members || members.has(student.student)) && (!cut || (share(student) ?? Number.POSITIVE_INFINITY) < cut),
  );
  const by = (otherwise: number) => (one: ResultLine) => share(one) ?? otherwise;
  if (how.order === "least") return kept.sort(up(by(2)));
  if (how.order === "most") return kept.sort(up((one) => -by(-1)(one)));
  if (how.order === "name") return kept.sort((a, b) => byName(a.name, b.name));
  return kept.sort(up((one) => one.desk));
}

const up = (by: (one: ResultLine) => number) => (a: ResultLine, b: ResultLine) => by(a) - by(b) || a.desk - b.desk;

export const marks = (value: number | null) => amount(value, value !== null && value % 1 ? 1 : 0);

/** What there is to say of a result besides its number. */
export function remarks(one: ResultLine): string {
  return [
    one.state !== "handed in" && inWords(one.state),
    one.set_reason && t`set by hand: ${one.set_reason}`,
    !one.set_reason && one.lost > 0 && t`late, ${marks(one.lost)} taken off ${marks(one.earned)}`,
    one.waiting > 0 &&
      t`${plural(one.waiting, { one: "# answer", other: "# answers" })} not marked${one.total_held ? t`, so they see no total yet` : ""}`,
    one.out_reason && t`not in the figures: ${one.out_reason}`,
  ]
    .filter(Boolean)
    .join(" · ");
}

type Full = Schemas["InFull"];

/** All that was said of a student’s work: of the whole, then question by question. */
export function saidOf(full: Full | undefined, seat: number): string {
  const own = full?.students.find((student) => student.seat === seat);
  if (!full || !own) return "";
  const each = own.said.flatMap((said, at) => (said ? [`${full.questions[at]?.label}: ${said}`] : []));
  return [own.comment, ...each].filter(Boolean).join("\n");
}
