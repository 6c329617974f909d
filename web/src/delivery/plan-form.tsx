import { t } from "@lingui/core/macro";
import { useState } from "react";
import type { Schemas } from "../api/client";
import type { Plan } from "../api/plan";
import { Checkbox } from "../ui/checkbox";
import { Disclosure } from "../ui/disclosure";
import { Choice, Field, TextArea, TextInput } from "../ui/field";
import { plain } from "../ui/rich";
import { SegmentedControl } from "../ui/segmented-control";
import { LessonPicker } from "./lesson-picker";

type Rules = Schemas["Rules"];
type When = "word" | "window";

const WHENS: Record<When, string> = { word: t`When I say`, window: t`In a window of time` };

const RESULTS: Record<Rules["results"], string> = {
  released: t`when I release them`,
  closed: t`when it is closed`,
  "handed in": t`as soon as they hand in`,
};

type Props = {
  plan: Plan;
  onChange: (plan: Plan) => void;
  /** The minutes that the test itself is planned for. */
  planned?: number | null;
  /** Only its end and its name can change any more. */
  begun?: boolean;
};

/** When a sitting is held, and under which rules; what most tests need stands open, the rest under a fold. */
export function PlanForm({ plan, onChange, planned = null, begun = false }: Props) {
  const [when, setWhen] = useState<When>(plan.opens_itself || plan.closes_at ? "window" : "word");
  const { rules } = plan;
  const rule = (part: Partial<Rules>) => onChange({ ...plan, rules: { ...rules, ...part } });
  const choose = (next: When) => {
    setWhen(next);
    onChange({
      ...plan,
      opens_itself: next === "window" && plan.planned_for !== null,
      // Who has a window of days has to hear of it; of a test in class students hear there.
      rules: { ...rules, tell: next === "window" },
      ...(next === "word" && { closes_at: null }),
    });
  };
  const beginning = (planned_for: string | null) =>
    onChange({ ...plan, planned_for, opens_itself: when === "window" && planned_for !== null });
  return (
    <>
      {!begun && <SegmentedControl label={t`When`} value={when} options={WHENS} onChange={choose} />}
      <div className="grid gap-x-5 sm:grid-cols-2">
        {!begun && (
          <Moment
            label={when === "window" ? t`Opens` : t`Planned for`}
            hint={when === "window" ? t`By itself; empty: when you open it.` : t`To find it again; you open it.`}
            value={plan.planned_for ?? null}
            onChange={beginning}
          />
        )}
        {!begun && <LessonPicker value={plan.planned_for ?? null} onChange={beginning} />}
        {(when === "window" || begun) && (
          <Moment
            label={t`Closes`}
            hint={t`By itself; what is not handed in then counts as it stands.`}
            value={plan.closes_at ?? null}
            onChange={(closes_at) => onChange({ ...plan, closes_at })}
          />
        )}
        {!begun && (
          <Field
            label={t`Working time`}
            hint={t`Minutes for each student, from when they begin. ${planned ? t`The test is planned for ${planned}. ` : ""}Empty: no limit.`}
          >
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={1}
                max={600}
                value={rules.minutes ?? ""}
                onChange={(event) => rule({ minutes: event.target.value ? Number(event.target.value) : null })}
              />
            )}
          </Field>
        )}
      </div>
      {!begun && (
        <Checkbox
          label={t`Tell the students, on their own page and by mail`}
          checked={rules.tell}
          onChange={(tell) => rule({ tell })}
        />
      )}
      {!begun && (
        <Checkbox
          label={t`Students wait at the door, with the instructions, until I let them in`}
          checked={rules.let_in}
          onChange={(let_in) => rule({ let_in })}
        />
      )}
      <div className="my-3">
        {begun ? (
          <OwnName plan={plan} onChange={onChange} />
        ) : (
          <Disclosure name={t`More rules`} remark={rulesInWords(rules)}>
            <Checkbox
              label={t`All questions on one page`}
              checked={rules.all_at_once}
              onChange={(all_at_once) => rule({ all_at_once, ...(all_at_once && { going_back: true }) })}
            />
            <Checkbox
              label={t`A question that was left cannot be changed`}
              checked={!rules.going_back}
              onChange={(strict) => rule({ going_back: !strict, ...(strict && { all_at_once: false }) })}
            />
            <Checkbox
              label={t`Each student has an order of questions and options of their own`}
              checked={rules.own_order}
              onChange={(own_order) => rule({ own_order })}
            />
            <Checkbox
              label={t`Work handed in can be taken back while it is open`}
              checked={rules.take_back}
              onChange={(take_back) => rule({ take_back })}
            />
            <label className="my-1.5 flex items-center gap-2 text-sm">
              {t`Attempts, of which the last one counts`}
              <TextInput
                type="number"
                className="w-16! py-0.5!"
                min={1}
                max={9}
                value={rules.attempts}
                onChange={(event) => rule({ attempts: Number(event.target.value) || 1 })}
              />
            </label>
            <label className="my-1.5 flex flex-wrap items-center gap-2 text-sm">
              {t`Students see their results`}
              <Choice
                low
                className="w-auto!"
                value={rules.results}
                onChange={(event) => rule({ results: event.target.value as Rules["results"] })}
              >
                {(Object.entries(RESULTS) as [Rules["results"], string][]).map(([value, words]) => (
                  <option key={value} value={value}>
                    {words}
                  </option>
                ))}
              </Choice>
            </label>
            <Checkbox
              label={t`A calculator is allowed`}
              checked={rules.calculator}
              onChange={(calculator) => rule({ calculator })}
            />
            <Checkbox label={t`Own notes are allowed`} checked={rules.notes} onChange={(notes) => rule({ notes })} />
            <div className="mt-3">
              <Field label={t`Formula sheet`} hint={t`Shown beside the questions. Formulas between dollar signs.`}>
                {(id) => (
                  <TextArea
                    id={id}
                    rows={3}
                    maxLength={4000}
                    value={plain(rules.formula_sheet)}
                    onChange={(event) => rule({ formula_sheet: escaped(event.target.value) })}
                  />
                )}
              </Field>
              <OwnName plan={plan} onChange={onChange} />
            </div>
          </Disclosure>
        )}
      </div>
    </>
  );
}

const escaped = (text: string) => text.replace(/&/g, "&amp;").replace(/</g, "&lt;");

function OwnName({ plan, onChange }: { plan: Plan; onChange: (plan: Plan) => void }) {
  return (
    <Field label={t`Name`} hint={t`Empty: class, test and day.`}>
      {(id) => (
        <TextInput
          id={id}
          maxLength={120}
          value={plan.name}
          onChange={(event) => onChange({ ...plan, name: event.target.value })}
        />
      )}
    </Field>
  );
}

type MomentProps = { label: string; hint: string; value: string | null; onChange: (at: string | null) => void };

/** A day and an hour of this computer’s zone, kept as a moment. */
export function Moment({ label, hint, value, onChange }: MomentProps) {
  return (
    <Field label={label} hint={hint}>
      {(id) => (
        <TextInput
          id={id}
          type="datetime-local"
          value={value ? local(value) : ""}
          onChange={(event) => onChange(event.target.value ? new Date(event.target.value).toISOString() : null)}
        />
      )}
    </Field>
  );
}

/** A moment as a field of a form takes it, in this computer’s zone. */
export function local(at: string | Date): string {
  const date = new Date(at);
  const two = (number: number) => String(number).padStart(2, "0");
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}T${two(date.getHours())}:${two(date.getMinutes())}`;
}

/** What differs from a test without fuss, in a few words. */
export function rulesInWords(rules: Rules): string {
  return [
    rules.minutes && t`${rules.minutes} min`,
    rules.tell && t`students are told`,
    rules.let_in && t`let in by you`,
    rules.all_at_once && t`all on one page`,
    !rules.going_back && t`no going back`,
    rules.own_order && t`own orders`,
    rules.take_back && t`can be taken back`,
    rules.attempts > 1 && t`${rules.attempts} attempts`,
    rules.results !== "released" && t`results ${RESULTS[rules.results]}`,
    rules.calculator && t`calculator`,
    rules.notes && t`notes`,
    rules.formula_sheet && t`formula sheet`,
  ]
    .filter(Boolean)
    .join(", ");
}
