import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Disclosure } from "../ui/disclosure";
import { TextInput } from "../ui/field";
import { folded } from "../ui/folded";
import { arrows, useKeys } from "../ui/keys";
import { NoPage } from "../ui/no-page";
import { Rich } from "../ui/rich";
import { SegmentedControl } from "../ui/segmented-control";
import { Empty, Page } from "../ui/split-page";
import { useWatching } from "./use-watching";
import { WatchedStudent } from "./watched-student";

type WatchPage = Schemas["WatchPage"];
type Student = WatchPage["students"][number];
type Task = WatchPage["tasks"][number];

const MOST_AT_ONCE = 6;
/** By how many are on the screen, in how many columns they stand. */
const COLUMNS = ["", "", "lg:grid-cols-2", "lg:grid-cols-3"];
/** With so many on the screen the class stands above them, so that they have its room. */
const MANY = 3;

/** Students who speak, play or show something, marked while they do: several on one screen. */
export function WatchingPage() {
  const sittingId = Number(useParams().sittingId);
  const [search, setSearch] = useSearchParams();
  const turn = search.get("turn") === "second" ? "second" : "first";
  const { page, problem } = useWatching(sittingId, turn);
  const [chosenTask, setTask] = useState("");
  const [chosen, setChosen] = useState<number[] | null>(null);
  const [active, setActive] = useState({ seat: 0, criterion: 0 });
  const task = page?.tasks.find((one) => one.ref === chosenTask) ?? page?.tasks[0];
  const students = page?.students ?? [];
  const onScreen = chosen ?? [];
  const shown = onScreen.flatMap((seat) => students.find((one) => one.seat === seat) ?? []);
  const at = Math.max(
    0,
    shown.findIndex((one) => one.seat === active.seat),
  );
  const inHand = shown[at];
  const criteria = task?.rubric.criteria ?? [];
  const go = (by: number) => {
    const next = shown[(at + by + shown.length) % Math.max(1, shown.length)];
    if (next) setActive({ seat: next.seat, criterion: 0 });
  };
  const turnTo = (by: number) =>
    setActive((now) => ({ ...now, criterion: Math.max(0, Math.min(criteria.length - 1, now.criterion + by)) }));
  useKeys({
    ...arrows({ left: () => go(-1), right: () => go(1), up: () => turnTo(-1), down: () => turnTo(1) }),
  });
  if (!page || !task)
    return (
      <Page title={t`Marking while watching`}>
        <NoPage error={problem} />
      </Page>
    );
  const toggle = (seat: number) => {
    const without = onScreen.filter((one) => one !== seat);
    setChosen(without.length < onScreen.length ? without : [...onScreen, seat].slice(-MOST_AT_ONCE));
    setActive({ seat, criterion: 0 });
  };
  const done = students.filter((one) => one.work[task.ref]?.mark?.state === "kept").length;
  return (
    <Page
      title={page.title}
      facts={t`${page.class_name} · ${done} of ${students.length} marked while watching`}
      actions={
        <>
          {page.second && (
            <Button
              variant="quiet"
              onClick={() => {
                setSearch(turn === "first" ? { turn: "second" } : {});
                setChosen(null);
              }}
            >
              {turn === "first" ? t`Give the second mark` : t`Give the first mark`}
            </Button>
          )}
          <ButtonLink to={`/sittings/${sittingId}`}>{t`The sitting`}</ButtonLink>
          <ButtonLink to={`/marking/${sittingId}`}>{t`Marking desk`}</ButtonLink>
        </>
      }
    >
      <div
        className={`grid flex-1 grid-cols-1 lg:min-h-0 ${shown.length < MANY ? "lg:grid-cols-[15rem_minmax(0,1fr)]" : "lg:grid-rows-[auto_minmax(0,1fr)]"}`}
      >
        <Class task={task} students={students} onScreen={onScreen} aside={shown.length < MANY} onToggle={toggle} />
        <section
          aria-label={t`Who is watched`}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a page that scrolls must be reachable by keyboard
          tabIndex={0}
          className="min-w-0 bg-page-2 px-4 py-4 -outline-offset-2 lg:overflow-y-auto"
        >
          {page.tasks.length > 1 && (
            <SegmentedControl
              label={t`Task`}
              value={task.ref}
              options={Object.fromEntries(page.tasks.map((one) => [one.ref, t`Question ${one.number}`]))}
              onChange={setTask}
            />
          )}
          <div className="mb-3">
            <Disclosure name={t`What is asked in question ${task.number}`}>
              <Rich html={task.stem} className="font-serif" />
            </Disclosure>
          </div>
          {shown.length === 0 ? (
            <Empty title={turn === "first" ? t`Choose whom you watch` : t`Choose whom you watch for the second mark`}>
              {students.length === 0
                ? t`${page.class_name} has no students yet.`
                : plural(Math.min(MOST_AT_ONCE, students.length), {
                    one: "Their watch, the rubric and evidence stand here.",
                    other: "One student, or up to # side by side: each with a watch, the rubric and evidence.",
                  })}
            </Empty>
          ) : (
            <div className={`grid grid-cols-1 items-start gap-4 ${COLUMNS[Math.min(shown.length, 3)]}`}>
              {shown.map((student) => (
                <WatchedStudent
                  key={`${student.seat} ${task.ref} ${turn}`}
                  sittingId={sittingId}
                  turn={turn}
                  student={student}
                  task={task}
                  active={inHand?.seat === student.seat}
                  criterion={active.criterion}
                  onActive={(criterion) => setActive({ seat: student.seat, criterion })}
                  onLeave={() => toggle(student.seat)}
                />
              ))}
            </div>
          )}
        </section>
      </div>
    </Page>
  );
}

/** With more students than this a name is typed rather than looked for. */
const MANY_NAMES = 20;

type ClassProps = {
  task: Task;
  students: Student[];
  onScreen: number[];
  /** Whether it stands at the side on a wide screen. */
  aside: boolean;
  onToggle: (seat: number) => void;
};

/** Everybody in desk order, and how far each is with this task. */
function Class({ task, students, onScreen, aside, onToggle }: ClassProps) {
  const signs = { none: "○", draft: "◐", kept: "●" };
  const [typed, setTyped] = useState("");
  const named = students.filter((student) => folded(student.name).includes(folded(typed.trim())));
  return (
    <nav
      aria-label={t`Students`}
      className={`border-b border-hairline px-3 py-3 ${aside ? "lg:overflow-y-auto lg:border-e lg:border-b-0" : "max-h-32 overflow-y-auto"}`}
    >
      {students.length > MANY_NAMES && (
        <TextInput
          type="search"
          aria-label={t`Find a student`}
          placeholder={t`Find a student`}
          className="mb-2"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      )}
      {named.length === 0 && typed && <p className="px-2 text-sm text-graphite">{t`Nobody is called that.`}</p>}
      <ul className={`flex flex-wrap gap-1 ${aside ? "lg:block" : ""}`}>
        {named.map((student) => {
          const state = student.work[task.ref]?.mark?.state ?? "none";
          const says = { none: t`not marked`, draft: t`begun`, kept: t`marked` }[state];
          const here = onScreen.includes(student.seat);
          return (
            <li key={student.seat}>
              <button
                type="button"
                aria-pressed={here}
                onClick={() => onToggle(student.seat)}
                className={`flex min-h-8 w-full items-baseline gap-2 px-2 py-1 text-start text-sm ${here ? "bg-iris-wash font-semibold" : "hover:bg-page-2"}`}
              >
                <span aria-hidden className="text-graphite">
                  {signs[state]}
                </span>
                <span className="min-w-0 flex-1 wrap-anywhere">{student.name}</span>
                <span className="text-xs text-graphite">
                  {student.away === "" ? (
                    <span className="sr-only">{says}</span>
                  ) : (
                    { absent: t`absent`, excused: t`excused` }[student.away]
                  )}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
      <p className="mt-2 px-2 text-xs text-graphite">{t`○ not marked, ◐ begun, ● marked`}</p>
    </nav>
  );
}
