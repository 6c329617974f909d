import { t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field } from "../ui/field";
import { Menu } from "../ui/menu";
import { EarlierAttempts } from "./earlier-attempts";
import { GiveBack } from "./give-back";
import { Minutes } from "./minutes";
import { SitNow } from "./sit-now";
import type { SeatLine, Sitting, SittingInHand } from "./use-sitting";

type Props = { sitting: SittingInHand; page: Sitting; seat: SeatLine };

/** What can be done with one student now: the nearest thing as a button, the rest in a list. */
export function SeatMenu({ sitting, page, seat }: Props) {
  const [asking, setAsking] = useState<"minutes" | "reopen" | "move" | "attempts" | null>(null);
  const { act } = sitting;
  const open = page.state === "open";
  const begun = seat.state === "working" || seat.state === "paused";
  const here = begun || seat.state === "at the door";
  const away = seat.state === "absent" || seat.state === "excused";
  const choices = [
    seat.attempt > 1 && { name: t`Earlier attempts…`, onChoose: () => setAsking("attempts") },
    begun && { name: t`Give time…`, onChoose: () => setAsking("minutes") },
    seat.state === "working" && {
      name: t`Pause to another day`,
      says: t`they go on where they were; say so when you close the sitting`,
      onChoose: () => act(seat.id, { act: "pause" }),
    },
    begun && { name: t`Hand in for them`, onChoose: () => act(seat.id, { act: "hand in" }) },
    { name: seat.locked ? t`Unlock` : t`Lock`, onChoose: () => act(seat.id, { act: seat.locked ? "unlock" : "lock" }) },
    seat.state === "at the door" && { name: t`Turn away`, onChoose: () => act(seat.id, { act: "turn away" }) },
    here && { name: t`Move to another seat…`, onChoose: () => setAsking("move") },
    seat.state === "expected" && { name: t`Absent`, onChoose: () => sitting.absence(seat.id, "absent") },
    (seat.state === "expected" || seat.state === "absent") && {
      name: t`Excused`,
      onChoose: () => sitting.absence(seat.id, "excused"),
    },
    away && page.state !== "closed" && { name: t`Expected`, onChoose: () => sitting.absence(seat.id, "expected") },
  ].filter((choice) => choice !== false);
  return (
    <span className="flex justify-end gap-1.5">
      {seat.state === "at the door" && open && (
        <Button onClick={() => act(seat.id, { act: "let in" })} aria-label={t`Let in ${seat.name}`}>{t`Let in`}</Button>
      )}
      {seat.state === "working" && (
        <Button
          variant="quiet"
          onClick={() => act(seat.id, { act: "pause" })}
          aria-label={t`Pause ${seat.name}`}
        >{t`pause`}</Button>
      )}
      {seat.state === "paused" && (
        <Button onClick={() => act(seat.id, { act: "resume" })} aria-label={t`Go on: ${seat.name}`}>{t`Go on`}</Button>
      )}
      {seat.state === "handed in" && (
        <Button
          variant="quiet"
          onClick={() => setAsking("reopen")}
          aria-label={t`give back to ${seat.name}`}
        >{t`give back`}</Button>
      )}
      {(away || (seat.state === "expected" && page.state === "closed")) && page.opened_at && (
        <SitNow sitting={sitting} page={page} seat={seat} label={t`Sit now: ${seat.name}`} />
      )}
      {choices.length > 0 && (
        <Menu
          trigger={
            <Button variant="quiet" aria-label={t`More for ${seat.name}`}>
              …
            </Button>
          }
          choices={choices}
        />
      )}
      {asking === "minutes" && (
        <Minutes
          title={t`Time for ${seat.name}`}
          says={t`On top of what they have; it counts at once.`}
          onClose={() => setAsking(null)}
          onGive={(minutes) => act(seat.id, { act: "give time", minutes })}
        />
      )}
      {asking === "reopen" && (
        <GiveBack
          name={seat.name}
          timed={page.rules.minutes !== null || page.closes_at !== null}
          onClose={() => setAsking(null)}
          onGive={(minutes, comment) => act(seat.id, { act: "reopen", minutes, comment })}
        />
      )}
      {asking === "attempts" && <EarlierAttempts sittingId={page.id} seat={seat} onClose={() => setAsking(null)} />}
      {asking === "move" && (
        <MoveTo
          page={page}
          seat={seat}
          onClose={() => setAsking(null)}
          onMove={(to) => act(seat.id, { act: "move", to })}
        />
      )}
    </span>
  );
}

type MoveProps = { page: Sitting; seat: SeatLine; onClose: () => void; onMove: (to: number) => void };

/** Somebody came in with another's pass: to whose seat they belong. */
function MoveTo({ page, seat, onClose, onMove }: MoveProps) {
  const free = page.list
    .filter((one) => one.id !== seat.id && ["expected", "absent", "at the door"].includes(one.state))
    .sort((one, other) => one.desk - other.desk);
  const [to, setTo] = useState(free[0]?.id ?? 0);
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Who sits at ${seat.name}’s place?`}
      says={t`Their device goes to the right seat, with everything they have answered.`}
    >
      <Field label={t`It is`}>
        {(id) => (
          <Choice id={id} value={to} onChange={(event) => setTo(Number(event.target.value))}>
            {free.map((one) => (
              <option key={one.id} value={one.id}>
                {one.desk} {one.name}
              </option>
            ))}
          </Choice>
        )}
      </Field>
      <Button
        variant="main"
        disabled={!to}
        onClick={() => {
          onMove(to);
          onClose();
        }}
      >{t`Move them`}</Button>
    </Dialog>
  );
}
