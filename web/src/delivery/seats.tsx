import { plural, t } from "@lingui/core/macro";
import type { ReactNode } from "react";
import { needsInWords } from "../classes/needs";
import { inWords } from "../ui/code-words";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { durationOf, timeOf } from "../ui/words";
import type { SeatLine } from "./use-sitting";

const LOOKS: Record<SeatLine["state"], string> = {
  expected: "text-graphite",
  "at the door": "text-ochre",
  working: "text-ink",
  paused: "text-ochre",
  "handed in": "text-teal",
  absent: "text-graphite",
  excused: "text-graphite",
};
const SIGNS: Partial<Record<SeatLine["state"], string>> = {
  "handed in": "● ",
  "at the door": "◐ ",
  paused: "◐ ",
};

type Props = { list: SeatLine[]; questions: number; actions?: (seat: SeatLine) => ReactNode };

/** A line a student, those first who need the teacher: how far they are, how long they have, what is wrong. */
export function Seats({ list, questions, actions }: Props) {
  if (list.length === 0) return null;
  const forms = list.some((seat) => seat.form !== "A");
  const timed = list.some((seat) => seat.seconds_left !== null);
  return (
    <Region name={t`Seats`} remark={t`those first who need you`}>
      <div className="overflow-x-auto">
        <Table
          caption={t`Seats, those first who need the teacher`}
          heads={[
            { label: t`Desk`, right: true },
            { label: t`Student` },
            { label: t`State`, silent: true },
            { label: t`Answered`, right: true },
            ...(timed ? [{ label: t`Left`, right: true }] : []),
            { label: t`Last sign`, right: true },
            ...(actions ? [{ label: t`What to do`, silent: true }] : []),
          ]}
        >
          {list.map((seat) => (
            <Row key={seat.id}>
              <Cell right>
                <span className="text-graphite">{seat.desk}</span>
              </Cell>
              <Cell>
                <span className="font-serif text-base">{seat.name}</span>
                <span className="ms-2 text-graphite">{remarks(seat, forms)}</span>
              </Cell>
              <Cell>
                {seat.trouble ? (
                  <span className="font-semibold text-clay">◆ {seat.trouble}</span>
                ) : (
                  <span className={LOOKS[seat.state]}>
                    {SIGNS[seat.state]}
                    {stateWords(seat)}
                  </span>
                )}
              </Cell>
              <Cell right>
                <span className="whitespace-nowrap">
                  {seat.answered > 0 || seat.state === "working" ? t`${seat.answered} of ${questions}` : ""}
                </span>
              </Cell>
              {timed && (
                <Cell right>
                  <span className={seat.seconds_left !== null && seat.seconds_left < 120 ? "text-clay" : ""}>
                    {seat.seconds_left === null ? "" : durationOf(seat.seconds_left)}
                  </span>
                </Cell>
              )}
              <Cell right>
                <span className="text-graphite">{seat.last_seen ? timeOf(seat.last_seen) : ""}</span>
              </Cell>
              {actions && <Cell right>{actions(seat)}</Cell>}
            </Row>
          ))}
        </Table>
      </div>
    </Region>
  );
}

function stateWords(seat: SeatLine): string {
  if (seat.state === "working" && seat.at !== null) return t`on question ${seat.at}`;
  if (seat.on_break) return t`on a break of their own`;
  if (seat.state === "handed in" && seat.ended_by_time) return t`time was over`;
  if (seat.state === "expected" && seat.sits_later) return t`may sit it now`;
  return inWords(seat.state);
}

function remarks(seat: SeatLine, forms: boolean): string {
  return [
    ...(forms ? [t`form ${seat.form}`] : []),
    ...needsInWords(seat.needs),
    ...(seat.locked ? [t`locked`] : []),
    ...(seat.attempt > 1 ? [t`attempt ${seat.attempt}`] : []),
    ...(seat.extra_minutes > 0 ? [t`${seat.extra_minutes} min more`] : []),
    ...(seat.times_away > 0
      ? [
          t`left the page ${plural(seat.times_away, { one: "# time", other: "# times" })}, ${durationOf(seat.seconds_away)}`,
        ]
      : []),
  ].join(", ");
}
