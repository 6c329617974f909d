import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { useSittingGlance } from "../ui/at-a-glance";
import { Button, ButtonLink } from "../ui/button";
import { SmallSpread } from "../ui/charts/small-spread";
import { inWords } from "../ui/code-words";
import { Problem } from "../ui/field";
import { ListTools, MANY, SortedBy, useListChoice, useTyped } from "../ui/list-tools";
import { useNewOne } from "../ui/new-one";
import { SeveralBar, SeveralButton, Tick, useSeveral } from "../ui/several";
import { Empty, Line, Page, Region } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { byName, momentOf, monthOf, percent, whenOf } from "../ui/words";
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
const OVER = ["closed", "released"];
const SORTED = { time: t`By time`, class: t`By class`, test: t`By test`, mean: t`Lowest mean first` };
type Sorted = keyof typeof SORTED;
type Glance = ReturnType<typeof useSittingGlance>;

/** Every sitting where its time is; what was typed to find one stays in the address. */
export function Sittings() {
  const [open, setOpen] = useNewOne();
  const { typed, type, holds } = useTyped();
  const several = useSeveral<number>();
  const [sorted, setSorted] = useListChoice<Sorted>("sittings", "time", ["time", "class", "test", "mean"]);
  const glance = useSittingGlance();
  const sittings = useQuery({ queryKey: ["sittings"], queryFn: () => read(api.GET("/api/v1/sittings")) });
  const add = <Button variant="main" keyHint="N" onClick={() => setOpen(true)}>{t`New sitting`}</Button>;
  const all = sittings.data ?? [];
  const held = all.filter((one) => holds(`${one.own_name} ${one.title} ${one.class_name} ${one.code}`));
  const groups = sorted === "time" ? inTime(held) : grouped(held, sorted, glance);
  return (
    <Page
      title={t`Sittings`}
      facts={all.length > MANY ? plural(all.length, { one: "# sitting", other: "# sittings" }) : ""}
      actions={
        <>
          <ButtonLink to="/timetable">{t`Timetable`}</ButtonLink>
          <ButtonLink to="/sittings/scans">{t`Scan inbox`}</ButtonLink>
          {all.length > 1 && <SeveralButton several={several} />}
          {add}
        </>
      }
    >
      <div className="px-6 py-4 lg:overflow-y-auto">
        <Problem error={sittings.error} />
        {sittings.data?.length === 0 && (
          <Empty
            title={t`No sitting yet.`}
            action={add}
          >{t`A sitting is one occasion on which a class sits a frozen test.`}</Empty>
        )}
        <ListTools
          name={t`Find a sitting`}
          hint={t`Find by test, class or code`}
          typed={typed}
          onType={type}
          count={all.length}
        >
          {all.length > 1 && <SortedBy value={sorted} of={SORTED} onChange={setSorted} />}
        </ListTools>
        <SeveralSittings several={several} held={held} />
        {all.length > 0 && held.length === 0 && (
          <p className="py-3 text-graphite">{t`No sitting holds these words.`}</p>
        )}
        {groups.map(({ name, some }) => (
          <Sat key={name} name={name} sittings={some} several={several} glance={glance} />
        ))}
      </div>
      {open && <NewSitting onClose={() => setOpen(false)} />}
    </Page>
  );
}

type Group = { name: string; some: Sitting[] };
const timesOf = (one: Sitting) => one.closed_at ?? one.opened_at ?? one.planned_for ?? "9";

/** What is on or to come, soonest first, and then what is over, by the month in which it was closed. */
function inTime(held: Sitting[]): Group[] {
  const now = new Date();
  const byTime = together(held, (one) => timeOfSitting(one, now));
  const soonest = (some: Sitting[]) =>
    some.toSorted((one, other) => (one.planned_for ?? "9").localeCompare(other.planned_for ?? "9"));
  const closed = (byTime.get("closed") ?? []).toSorted((one, other) =>
    (other.closed_at ?? "").localeCompare(one.closed_at ?? ""),
  );
  return [
    ...entriesOf(AHEAD).flatMap(([time, name]) => {
      const some = byTime.get(time);
      return some ? [{ name, some: soonest(some) }] : [];
    }),
    ...[...together(closed, (one) => closedIn(one.closed_at, now)?.getTime() ?? null)].map(([month, some]) => ({
      name: month === null ? t`Closed within a week` : t`Closed in ${monthOf(new Date(month))}`,
      some,
    })),
  ];
}

/** By class or test under its name, the latest first; or those that were hardest for their class, all in one. */
function grouped(held: Sitting[], sorted: Exclude<Sorted, "time">, glance: Glance): Group[] {
  const latest = held.toSorted((one, other) => timesOf(other).localeCompare(timesOf(one)));
  if (sorted !== "mean") {
    const groups = together(latest, (one) => (sorted === "class" ? one.class_name : one.title));
    return [...groups].map(([name, some]) => ({ name, some })).sort((one, other) => byName(one.name, other.name));
  }
  const mean = (one: Sitting) => glance.get(one.id)?.mean ?? null;
  const known = latest.filter((one) => mean(one) !== null);
  const rest = latest.filter((one) => mean(one) === null);
  return [
    { name: t`Lowest mean first`, some: known.sort((one, other) => (mean(one) ?? 0) - (mean(other) ?? 0)) },
    { name: t`Without a mean yet`, some: rest },
  ].filter((group) => group.some.length > 0);
}

const entriesOf = <K extends string, V>(of: Record<K, V>) => Object.entries(of) as [K, V][];

type Ticks = ReturnType<typeof useSeveral<number>>;

/** Closing is undone by opening again; what is removed is gone, so that is asked first. */
function SeveralSittings({ several, held }: { several: Ticks; held: Sitting[] }) {
  const client = useQueryClient();
  const say = useSay();
  const ticked = held.filter((one) => several.has(one.id));
  const running = ticked.filter((one) => one.state === "open" || one.state === "paused");
  const ahead = ticked.filter((one) => !one.opened_at && !OVER.includes(one.state));
  const at = (sitting_id: number) => ({ params: { path: { sitting_id } } });
  const step = async (some: Sitting[], to: "open" | "close") => {
    const go = ({ id }: Sitting) =>
      read(api.POST("/api/v1/sittings/{sitting_id}/steps/{step}", { params: { path: { sitting_id: id, step: to } } }));
    await Promise.all(some.map(go)).finally(() => changed(client, "sitting"));
  };
  const close = useMutation({
    mutationFn: () => step(running, "close"),
    onSuccess: () => {
      const closed = running;
      several.end();
      say(t`Closed: ${plural(closed.length, { one: "# sitting", other: "# sittings" })}.`, () => step(closed, "open"));
    },
  });
  const remove = useMutation({
    mutationFn: () => Promise.all(ahead.map(({ id }) => read(api.DELETE("/api/v1/sittings/{sitting_id}", at(id))))),
    onSuccess: async () => {
      several.end();
      await changed(client, "plan");
    },
  });
  const planned = plural(ahead.length, { one: "# planned one", other: "# planned ones" });
  return (
    <>
      <Problem error={close.error ?? remove.error} />
      <SeveralBar several={several} every={held.map((one) => one.id)}>
        <Button disabled={running.length === 0 || close.isPending} onClick={() => close.mutate()}>
          {t`Close ${plural(running.length, { one: "# open one", other: "# open ones" })}`}
        </Button>
        {ahead.length > 0 && (
          <AskFirst
            name={t`Remove ${planned}`}
            title={t`Remove ${planned}?`}
            says={t`Nobody has sat them. Their plans, codes and rules go: ${ahead.map((one) => one.name).join("; ")}.`}
            does={t`Remove them`}
            onSure={() => remove.mutate()}
            busy={remove.isPending}
          />
        )}
      </SeveralBar>
    </>
  );
}

type SatProps = { name: string; sittings: Sitting[]; several: Ticks; glance: Glance };

function Sat({ name, sittings, several, glance }: SatProps) {
  return (
    <Region name={name}>
      {sittings.map((sitting) => (
        <SittingRow key={sitting.id} sitting={sitting} several={several} went={glance.get(sitting.id)} />
      ))}
    </Region>
  );
}

type RowProps = { sitting: Sitting; several: Ticks; went: Schemas["SittingGlanceLine"] | undefined };

function SittingRow({ sitting, several, went }: RowProps) {
  const closed = sitting.state === "closed" || sitting.state === "released";
  const at = closed ? sitting.closed_at : (sitting.opened_at ?? sitting.planned_for);
  return (
    <Line
      margin={
        <span className="flex items-start">
          <Tick several={several} one={sitting.id} name={t`Tick ${sitting.name}`} />
          {at ? whenOf(at) : t`when you say`}
        </span>
      }
      action={
        <>
          {went && went.spread.length > 0 && (
            <span className="w-26 shrink-0">
              <SmallSpread counts={went.spread} mean={went.mean} />
              <span className="text-xs text-graphite">{t`mean ${percent(went.mean)}`}</span>
            </span>
          )}
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
  // Whole sentences, since the words agree with one another in most languages.
  if (in_the_room)
    return closed
      ? t`in the room: ${handed_in} of ${seats} took part`
      : t`in the room: ${handed_in + working} of ${seats} here`;
  const until = closes_at && !closed ? t`, until ${momentOf(closes_at)}` : "";
  return `${marks_only ? t`${handed_in} of ${seats} rows of marks full` : t`${handed_in} of ${seats} handed in`}${until}`;
}
