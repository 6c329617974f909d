import { plural, t } from "@lingui/core/macro";
import { Pause, Play, RotateCcw, X } from "lucide-react";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { typeDigit } from "../grading/digits";
import { RubricMarks } from "../grading/rubric-marks";
import type { MarkingItem } from "../grading/types";
import { Button } from "../ui/button";
import { Field, TextArea } from "../ui/field";
import { useKeys } from "../ui/keys";
import { amount, durationOf } from "../ui/words";
import { Evidence } from "./evidence";
import type { Reading } from "./sender";
import { useStopwatch } from "./use-stopwatch";
import { useWatched } from "./use-watching";

type Whole = Schemas["WatchedTask"];
type Task = Omit<Whole, "rubric"> & { rubric: MarkingItem["rubric"] };
type Props = {
  sittingId: number;
  turn: Reading;
  student: Schemas["WatchedStudent"];
  task: Task;
  /** Whether digits mark this one. */
  active: boolean;
  criterion: number;
  onActive: (criterion: number) => void;
  onLeave: () => void;
};

/** One student who is watched: the watch, the levels, words, and evidence. */
export function WatchedStudent({ sittingId, turn, student, task, active, criterion, onActive, onLeave }: Props) {
  const watched = useWatched(sittingId, turn, student, task);
  const place = { sitting: sittingId, seat: student.seat, item: task.ref, turn };
  const watch = useStopwatch(`${sittingId} ${student.seat} ${task.ref}`, watched.seconds);
  const full = task.rubric.criteria.reduce((sum, one) => sum + (one.max ?? 0), 0);
  const over = task.minutes > 0 && watch.seconds > task.minutes * 60;
  const { criteria } = task.rubric;
  const [typed, setTyped] = useState("");
  const [refusal, setRefusal] = useState("");
  const digit = (key: string) => {
    const step = typeDigit({ at: criterion, typed }, key, criteria);
    const name = criteria[criterion]?.id;
    if (name && typeof step.points === "number") watched.set(name, step.points);
    setRefusal(step.refusal ?? "");
    setTyped(step.typed);
    if (step.at !== criterion) onActive(step.at);
  };
  const toggle = () => (watch.runs ? watched.took(watch.stop()) : watch.start());
  useKeys(
    active
      ? {
          ...Object.fromEntries([..."0123456789"].map((key) => [key, () => digit(key)])),
          ...Object.fromEntries([
            ["Enter", () => watched.complete && !watched.kept && watched.keep()],
            [" ", toggle],
          ]),
        }
      : {},
  );
  const places = (value: number) => amount(value, value % 1 ? 1 : 0);
  return (
    <section
      aria-label={student.name}
      onFocusCapture={() => !active && onActive(0)}
      className={`flex min-w-0 flex-col border bg-page px-4 py-3 ${active ? "border-edge" : "border-hairline"}`}
    >
      <header className="mb-2">
        <div className="flex items-start gap-2">
          <h2 className="min-w-0 flex-1 font-serif text-xl font-semibold wrap-anywhere">{student.name}</h2>
          <button
            type="button"
            aria-label={t`Take ${student.name} off this screen`}
            className="flex size-8 items-center justify-center text-graphite hover:text-ink"
            onClick={onLeave}
          >
            <X size={16} aria-hidden />
          </button>
        </div>
        <div className="flex items-center gap-2">
          <span className={`font-serif text-2xl tabular-nums ${over ? "text-clay" : ""}`} role="timer">
            {durationOf(watch.seconds)}
          </span>
          <Button
            aria-label={watch.runs ? t`Stop the watch of ${student.name}` : t`Start the watch of ${student.name}`}
            onClick={toggle}
          >
            {watch.runs ? <Pause size={14} aria-hidden /> : <Play size={14} aria-hidden />}
            {watch.runs ? t`Stop` : t`Start`}
          </Button>
          <button
            type="button"
            aria-label={t`Set the watch of ${student.name} to nought`}
            disabled={watch.runs || watch.seconds === 0}
            className="flex size-8 items-center justify-center text-graphite hover:text-ink disabled:opacity-40"
            onClick={() => {
              watch.zero();
              watched.took(0);
            }}
          >
            <RotateCcw size={14} aria-hidden />
          </button>
        </div>
      </header>
      {over && (
        <p className="mb-2 text-sm text-clay">
          {plural(task.minutes, {
            one: "Longer than the one minute asked for.",
            other: "Longer than the # minutes asked for.",
          })}
        </p>
      )}
      {watched.other && (
        <p role="status" className="mb-2 border-s-2 border-ochre bg-ochre-wash px-3 py-1 text-sm">
          {t`${watched.other} has given this mark. Yours would be kept beside it until one of you chooses at the marking desk.`}
        </p>
      )}
      {watched.beside && (
        <p role="status" className="mb-2 border-s-2 border-ochre bg-ochre-wash px-3 py-1 text-sm">
          {t`Two marks stand beside one another. One of you chooses at the marking desk.`}
        </p>
      )}
      <RubricMarks
        criteria={criteria}
        points={watched.points}
        active={active ? criterion : -1}
        onActive={onActive}
        onSet={watched.set}
        onSlide={watched.set}
      />
      <Field label={t`Comment`}>
        {(id) => (
          <TextArea
            id={id}
            rows={2}
            maxLength={4000}
            value={watched.comment}
            onChange={(event) => watched.say(event.target.value)}
          />
        )}
      </Field>
      {(watched.refusal || refusal) && (
        <p role="alert" className="mb-2 text-sm text-ochre">
          {watched.refusal || refusal}
        </p>
      )}
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <span className="font-serif text-3xl font-semibold text-plum">{places(watched.total)}</span>
        <span className="text-sm text-graphite">
          {watched.complete ? t`of ${places(full)}` : t`of ${places(full)} so far`}
        </span>
        <Button variant="main" className="ms-auto" disabled={!watched.complete || watched.kept} onClick={watched.keep}>
          {watched.kept ? t`Kept` : t`Keep`}
        </Button>
      </div>
      <Evidence
        place={place}
        name={student.name}
        evidence={watched.evidence}
        waiting={watched.waiting}
        onFile={watched.keepFile}
      />
    </section>
  );
}
