import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { inWords } from "../ui/code-words";
import { Problem, TextInput } from "../ui/field";
import { folded } from "../ui/folded";
import { useNewOne } from "../ui/new-one";
import { Empty, Line, Page, Region } from "../ui/split-page";
import { momentOf, monthOf, whenOf } from "../ui/words";
import { closedIn, type Time, timeOfSitting, together } from "./by-time";
import { NewSitting } from "./new-sitting";
import { SittingTitle } from "./sitting-title";

type Sitting = Schemas["SittingLine"];

const AHEAD: Record<Exclude<Time, "closed">, string> = {
  open: t`Open now`,
  paused: t`Paused`,
  entering: t`Marks to enter`,
  missed: t`Planned for a day that is over`,
  today: t`Today`,
  week: t`Within a week`,
  later: t`Later, or when you say`,
};
/** With more than this one looks for a sitting by its words. */
const MANY = 8;

/** Every sitting where its time is; what was typed to find one stays in the address. */
export function Sittings() {
  const [open, setOpen] = useNewOne();
  const [search, setSearch] = useSearchParams();
  const typed = search.get("find") ?? "";
  const sittings = useQuery({ queryKey: ["sittings"], queryFn: () => read(api.GET("/api/v1/sittings")) });
  const add = <Button variant="main" keyHint="N" onClick={() => setOpen(true)}>{t`New sitting`}</Button>;
  const all = sittings.data ?? [];
  const words = folded(typed).split(/\s+/).filter(Boolean);
  const held = all.filter((one) => {
    const says = folded(`${one.own_name} ${one.title} ${one.class_name} ${one.code}`);
    return words.every((word) => says.includes(word));
  });
  const now = new Date();
  const byTime = together(held, (one) => timeOfSitting(one, now));
  const soonest = (some: Sitting[]) =>
    [...some].sort((one, other) => (one.planned_for ?? "9").localeCompare(other.planned_for ?? "9"));
  const closed = [...(byTime.get("closed") ?? [])].sort((one, other) =>
    (other.closed_at ?? "").localeCompare(one.closed_at ?? ""),
  );
  return (
    <Page
      title={t`Sittings`}
      facts={all.length > MANY ? plural(all.length, { one: "# sitting", other: "# sittings" }) : ""}
      actions={
        <>
          <ButtonLink to="/timetable">{t`Timetable`}</ButtonLink>
          <ButtonLink to="/sittings/scans">{t`Scan inbox`}</ButtonLink>
          {add}
        </>
      }
    >
      <div className="max-w-5xl px-6 py-4">
        <Problem error={sittings.error} />
        {sittings.data?.length === 0 && (
          <Empty
            title={t`No sitting yet.`}
            action={add}
          >{t`A sitting is one occasion on which a class sits a frozen test.`}</Empty>
        )}
        {(all.length > MANY || typed) && (
          <TextInput
            type="search"
            aria-label={t`Find a sitting`}
            placeholder={t`Find by test, class or code`}
            className="mb-4 max-w-md"
            value={typed}
            onChange={(event) => setSearch(event.target.value ? { find: event.target.value } : {}, { replace: true })}
          />
        )}
        {all.length > 0 && held.length === 0 && (
          <p className="py-3 text-graphite">{t`No sitting holds these words.`}</p>
        )}
        {entriesOf(AHEAD).map(([time, name]) => {
          const some = byTime.get(time);
          return some && <Sat key={time} name={name} sittings={soonest(some)} />;
        })}
        {[...together(closed, (one) => closedIn(one.closed_at, now)?.getTime() ?? null)].map(([month, some]) => (
          <Sat
            key={month}
            name={month === null ? t`Closed within a week` : t`Closed in ${monthOf(new Date(month))}`}
            sittings={some}
          />
        ))}
      </div>
      {open && <NewSitting onClose={() => setOpen(false)} />}
    </Page>
  );
}

const entriesOf = <K extends string, V>(of: Record<K, V>) => Object.entries(of) as [K, V][];

function Sat({ name, sittings }: { name: string; sittings: Sitting[] }) {
  return (
    <Region name={name}>
      {sittings.map((sitting) => (
        <SittingRow key={sitting.id} sitting={sitting} />
      ))}
    </Region>
  );
}

function SittingRow({ sitting }: { sitting: Sitting }) {
  const closed = sitting.state === "closed" || sitting.state === "released";
  const at = closed ? sitting.closed_at : (sitting.opened_at ?? sitting.planned_for);
  return (
    <Line
      margin={at ? whenOf(at) : t`when you say`}
      action={
        <>
          {closed && <ButtonLink to={`/findings/${sitting.id}`}>{t`Findings`}</ButtonLink>}
          <ButtonLink to={`/sittings/${sitting.id}`}>{actionWords(sitting, closed)}</ButtonLink>
        </>
      }
    >
      <SittingTitle sitting={sitting} />
      <p className="text-sm text-graphite">
        {sitting.missing.length > 0 ? (
          <span className="text-clay">◆ {sitting.missing.join(" ")}</span>
        ) : sitting.opened_at ? (
          progressWords(sitting, closed)
        ) : (
          `${inWords(sitting.state)}${sitting.in_the_room ? t`, in the room` : ""}: ${plural(sitting.seats, { one: "# seat", other: "# seats" })}, ${plural(sitting.questions, { one: "# question", other: "# questions" })}`
        )}
      </p>
    </Line>
  );
}

function actionWords(sitting: Sitting, closed: boolean): string {
  if (sitting.marks_only) return t`Marks`;
  if (closed) return sitting.in_the_room ? t`Round by round` : t`Who sat it`;
  return sitting.opened_at ? t`Watch` : t`Go to it`;
}

function progressWords(
  { marks_only, in_the_room, handed_in, working, seats, closes_at }: Sitting,
  closed: boolean,
): string {
  if (in_the_room)
    return t`in the room: ${closed ? handed_in : handed_in + working} of ${seats} ${closed ? t`took part` : "here"}`;
  const until = closes_at && !closed ? t`, until ${momentOf(closes_at)}` : "";
  return t`${handed_in} of ${seats} ${marks_only ? t`rows of marks full` : t`handed in`}${until}`;
}
