import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Disclosure } from "../ui/disclosure";
import { Choice, Field, TextInput } from "../ui/field";
import { SegmentedControl } from "../ui/segmented-control";

export type Body = Schemas["PileBody"];
type MarkerBody = Body["markers"][number];
type Props = {
  plan: Body;
  /** Classes whose answers may be in it; empty once the pile is made. */
  sittings: Schemas["PileSittingLine"][];
  questions: Schemas["PileQuestion"][];
  colleagues: Schemas["PileColleague"][];
  students: Schemas["PileStudent"][];
  isNew: boolean;
  busy: boolean;
  onPlan: (plan: Body) => void;
};

const WAYS: Record<Body["way"], string> = {
  question: t`By question`,
  student: t`By student`,
  next: t`The next free one`,
};
const WAY_HINTS: Record<Body["way"], string> = {
  question: t`The answers to each question are dealt to its markers.`,
  student: t`All answers of a student go to one marker.`,
  next: t`Whoever has marked theirs takes the next that nobody has.`,
};
const NAMES: Record<NonNullable<Body["names"]>, string> = {
  shown: t`Names shown`,
  markers: t`Hidden from markers`,
  all: t`Hidden from all`,
};

/** Who marks what of a pile, and when. */
export function PilePlan({ plan: given, sittings, questions, colleagues, students, isNew, busy, onPlan }: Props) {
  const [plan, setPlan] = useState(given);
  const put = (change: Partial<Body>) => setPlan({ ...plan, ...change });
  const others = colleagues.filter((one) => !plan.markers.some((marker) => marker.teacher === one.id));
  const nameOf = (id: number) => colleagues.find((one) => one.id === id)?.name ?? t`a former colleague`;
  const change = (teacher: number, to: Partial<MarkerBody>) =>
    put({ markers: plan.markers.map((one) => (one.teacher === teacher ? { ...one, ...to } : one)) });
  return (
    <form
      className={isNew ? "grid gap-x-10 pt-3 lg:grid-cols-2" : "pt-3"}
      onSubmit={(event) => {
        event.preventDefault();
        onPlan(plan);
      }}
    >
      <div>
        {isNew && sittings.length > 1 && (
          <fieldset className="mb-4">
            <legend className="mb-1 text-sm font-semibold">{t`Whose answers`}</legend>
            {sittings.map((one) => (
              <Checkbox
                key={one.sitting}
                label={t`${one.class_name}: ${plural(one.answers - one.marked, { one: "# answer", other: "# answers" })} to mark`}
                checked={plan.sittings.includes(one.sitting)}
                onChange={(taken) =>
                  put({
                    sittings: taken
                      ? [...plan.sittings, one.sitting]
                      : plan.sittings.filter((sitting) => sitting !== one.sitting),
                  })
                }
              />
            ))}
          </fieldset>
        )}
        <SegmentedControl
          label={t`How it is shared`}
          value={plan.way}
          options={WAYS}
          onChange={(way) => put({ way })}
        />
        <p className="mt-1 mb-4 text-sm text-graphite">{WAY_HINTS[plan.way]}</p>
        <fieldset className="mb-2">
          <legend className="mb-1 text-sm font-semibold">{t`Who marks`}</legend>
          {plan.markers.map((marker) => (
            <MarkerRow
              key={marker.teacher}
              name={nameOf(marker.teacher)}
              marker={marker}
              questions={questions}
              students={students}
              onChange={(to) => change(marker.teacher, to)}
              onOut={() => put({ markers: plan.markers.filter((one) => one !== marker) })}
            />
          ))}
          {others.length > 0 && plan.markers.length < 10 && (
            <Choice
              aria-label={t`Add a marker`}
              value=""
              onChange={(event) =>
                event.target.value &&
                put({
                  markers: [...plan.markers, { teacher: Number(event.target.value), share: 1, items: [], barred: [] }],
                })
              }
            >
              <option value="">{t`Add a marker…`}</option>
              {others.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </Choice>
          )}
        </fieldset>
      </div>
      <div>
        <div className="grid gap-x-5 sm:grid-cols-2">
          <Moment label={t`May be marked from`} value={plan.begins ?? null} onChange={(begins) => put({ begins })} />
          <Moment label={t`Marked by`} value={plan.due ?? null} onChange={(due) => put({ due })} />
        </div>
        {isNew ? (
          <SegmentedControl
            label={t`Names`}
            value={plan.names ?? "shown"}
            options={NAMES}
            onChange={(names) => put({ names })}
          />
        ) : (
          plan.names !== "all" && (
            <SegmentedControl
              label={t`Names`}
              value={plan.names ?? "shown"}
              options={{ shown: NAMES.shown, markers: NAMES.markers }}
              onChange={(names) => put({ names })}
            />
          )
        )}
        <div className="mt-3 grid gap-1">
          <Checkbox
            label={t`Sample answers are marked before the first answer`}
            checked={plan.practise_first ?? false}
            onChange={(practise_first) => put({ practise_first })}
          />
          <Checkbox
            label={t`Nobody marks students of a class in which they teach`}
            checked={plan.not_own ?? false}
            onChange={(not_own) => put({ not_own })}
          />
          <Checkbox
            label={t`Answers that say much the same follow one another`}
            checked={plan.like_together ?? false}
            onChange={(like_together) => put({ like_together })}
          />
        </div>
        <div className="mt-4" />
        <Field
          label={t`An agreed answer after every`}
          hint={t`So many of a marker’s own. Which answers are agreed on you say once the pile is shared.`}
        >
          {(id) => (
            <TextInput
              id={id}
              type="number"
              required
              min={1}
              max={50}
              value={plan.check_every ?? 8}
              onChange={(event) => put({ check_every: event.target.valueAsNumber })}
            />
          )}
        </Field>
        <Button
          type="submit"
          variant="main"
          className="mt-3"
          disabled={busy || plan.markers.length === 0 || plan.sittings.length === 0}
        >
          {isNew ? t`Share it out` : t`Change it`}
        </Button>
      </div>
    </form>
  );
}

type RowProps = {
  name: string;
  marker: MarkerBody;
  questions: Props["questions"];
  students: Props["students"];
  onChange: (to: Partial<MarkerBody>) => void;
  onOut: () => void;
};

/** One marker: how much beside the others, which questions, and whom they may not mark. */
function MarkerRow({ name, marker, questions, students, onChange, onOut }: RowProps) {
  const items = marker.items ?? [];
  const barred = marker.barred ?? [];
  return (
    <section aria-label={name} className="py-2">
      <p className="flex items-baseline gap-3">
        <bdi className="min-w-0 flex-1 font-semibold wrap-anywhere">{name}</bdi>
        <label className="flex items-baseline gap-2 text-sm">
          {t`Share`}
          <TextInput
            type="number"
            aria-label={t`Share of ${name}`}
            className="w-16!"
            required
            min={0.5}
            max={20}
            step={0.5}
            value={marker.share ?? 1}
            onChange={(event) => onChange({ share: event.target.valueAsNumber })}
          />
        </label>
        <Button variant="quiet" onClick={onOut}>{t`take out`}</Button>
      </p>
      {questions.length > 1 && (
        <p className="mt-1 flex flex-wrap gap-x-4">
          {questions.map((question) => (
            <Checkbox
              key={question.ref}
              label={t`Question ${question.number}`}
              checked={items.length === 0 || items.includes(question.ref)}
              onChange={(taken) => {
                const now = items.length ? items : questions.map((one) => one.ref);
                const next = taken ? [...now, question.ref] : now.filter((ref) => ref !== question.ref);
                if (next.length) onChange({ items: next.length === questions.length ? [] : next });
              }}
            />
          ))}
        </p>
      )}
      <Disclosure name={t`Students they may not mark`} remark={barred.length ? String(barred.length) : t`none`}>
        <div className="grid max-h-48 gap-x-4 overflow-y-auto sm:grid-cols-2">
          {students.map((student) => (
            <Checkbox
              key={student.seat}
              label={<bdi>{`${student.name}, ${student.class_name}`}</bdi>}
              checked={barred.includes(student.seat)}
              onChange={(out) =>
                onChange({ barred: out ? [...barred, student.seat] : barred.filter((seat) => seat !== student.seat) })
              }
            />
          ))}
        </div>
      </Disclosure>
    </section>
  );
}

/** A day and a time, or none. */
function Moment(props: { label: string; value: string | null; onChange: (value: string | null) => void }) {
  const at = props.value ? new Date(props.value) : null;
  const local = at ? new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16) : "";
  return (
    <Field label={props.label} hint={t`Leave it empty for any time.`}>
      {(id) => (
        <TextInput
          id={id}
          type="datetime-local"
          value={local}
          onChange={(event) => props.onChange(event.target.value ? new Date(event.target.value).toISOString() : null)}
        />
      )}
    </Field>
  );
}
