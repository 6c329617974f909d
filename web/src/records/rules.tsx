import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { NoPage } from "../ui/no-page";
import { Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { dayOf } from "../ui/words";
import { RecordNav } from "./record-nav";
import { type ClassRecord, useRecord, useRecordChange } from "./use-record";

/** What the averages of a class go by: terms, the scale, categories with weights, and what each sitting is. */
export function RecordRules() {
  const classId = Number(useParams().classId);
  const found = useRecord(classId);
  const record = found.data;
  if (!record)
    return (
      <Page title={t`Terms and scale`} actions={<RecordNav classId={classId} />}>
        <NoPage error={found.error} />
      </Page>
    );
  return (
    <Page title={t`Terms and scale of ${record.class_name}`} actions={<RecordNav classId={classId} />}>
      <SplitPage
        split="even"
        names={{ left: t`Terms and sittings`, right: t`Scale and weights` }}
        left={
          <>
            <Terms key={`terms ${record.terms.map((term) => term.id)}`} />
            <Sittings record={record} />
          </>
        }
        right={
          <>
            <Scale key={`scale ${record.rules.scale_name}`} record={record} />
            <Categories key={`categories ${record.categories.map((category) => category.id)}`} record={record} />
          </>
        }
      />
    </Page>
  );
}

type TermLine = Schemas["TermBody"];

function Terms() {
  const found = useQuery({ queryKey: ["terms"], queryFn: () => read(api.GET("/api/v1/terms")) });
  const [changed, setChanged] = useState<TermLine[] | null>(null);
  const say = useSay();
  const lines = changed ?? found.data ?? [];
  const keep = useRecordChange(
    () => read(api.PUT("/api/v1/terms", { body: { terms: lines } })),
    () => {
      setChanged(null);
      say(t`The terms are kept. They hold for all your classes.`);
    },
  );
  const set = (at: number, part: Partial<TermLine>) =>
    setChanged(lines.map((line, place) => (place === at ? { ...line, ...part } : line)));
  const cell = (at: number, name: "name" | "starts" | "ends", label: string) => (
    <TextInput
      aria-label={t`${label}, term ${at + 1}`}
      type={name === "name" ? "text" : "date"}
      required
      maxLength={40}
      value={lines[at]?.[name] ?? ""}
      onChange={(event) => set(at, { [name]: event.target.value })}
    />
  );
  return (
    <Region name={t`Terms`} remark={t`for all your classes`}>
      <form
        className="py-2"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate(undefined);
        }}
      >
        {lines.map((line, at) => (
          <div key={line.id ?? `new ${at}`} className="mb-2 flex flex-wrap items-center gap-2">
            <span className="w-32">{cell(at, "name", t`Name`)}</span>
            <span className="w-40">{cell(at, "starts", t`First day`)}</span>
            <span className="w-40">{cell(at, "ends", t`Last day`)}</span>
            <Button
              variant="quiet"
              onClick={() => setChanged(lines.filter((_, place) => place !== at))}
            >{t`take out`}</Button>
          </div>
        ))}
        {lines.length === 0 && <p className="mb-2 text-graphite">{t`No term yet: the record is one long year.`}</p>}
        <Problem error={found.error ?? keep.error} />
        <p className="flex gap-3">
          <Button onClick={() => setChanged([...lines, nextTerm(lines)])}>{t`Another term`}</Button>
          {changed && <Button type="submit" variant="main" disabled={keep.isPending}>{t`Keep the terms`}</Button>}
        </p>
      </form>
    </Region>
  );
}

/** Three months from where the last one ends. */
function nextTerm(lines: TermLine[]): TermLine {
  const last = lines
    .map((line) => line.ends)
    .sort()
    .at(-1);
  const starts = last ? new Date(last) : new Date();
  if (last) starts.setDate(starts.getDate() + 1);
  const ends = new Date(starts);
  ends.setMonth(ends.getMonth() + 3);
  const day = (date: Date) => date.toISOString().slice(0, 10);
  return { name: t`Term ${lines.length + 1}`, starts: day(starts), ends: day(ends) };
}

function Sittings({ record }: { record: ClassRecord }) {
  const place = useRecordChange(({ id, ...body }: { id: number } & Schemas["PlaceBody"]) =>
    read(api.PUT("/api/v1/sittings/{sitting_id}/record", { params: { path: { sitting_id: id } }, body })),
  );
  const term = (id: number | null) => record.terms.find((term) => term.id === id)?.name ?? t`in no term`;
  return (
    <Region name={t`What each sitting is`}>
      <Problem error={place.error} />
      {record.sittings.length === 0 && <p className="py-2 text-graphite">{t`Nothing has been sat to the end yet.`}</p>}
      <Table
        caption={t`The sittings in the record`}
        heads={[{ label: t`Sitting` }, { label: t`Category` }, { label: t`Counts` }, { label: t`Baseline` }]}
      >
        {record.sittings.map((sitting) => {
          const now = {
            id: sitting.id,
            category: sitting.category,
            counts: sitting.counts,
            baseline: sitting.baseline,
          };
          return (
            <Row key={sitting.id}>
              <Cell>
                <span className="font-serif wrap-anywhere">{sitting.title}</span>
                <span className="block text-xs text-graphite">{`${dayOf(sitting.held_on)}, ${term(sitting.term)}`}</span>
              </Cell>
              <Cell>
                <Choice
                  low
                  aria-label={t`Category of ${sitting.title}, ${dayOf(sitting.held_on)}`}
                  value={sitting.category ?? ""}
                  onChange={(event) => place.mutate({ ...now, category: Number(event.target.value) || null })}
                >
                  <option value="">{t`none`}</option>
                  {record.categories.map((category) => (
                    <option key={category.id} value={category.id}>
                      {category.name}
                    </option>
                  ))}
                </Choice>
              </Cell>
              <Cell>
                <Checkbox
                  label={<span className="sr-only">{t`${sitting.title} counts`}</span>}
                  checked={sitting.counts}
                  onChange={(counts) => place.mutate({ ...now, counts })}
                />
              </Cell>
              <Cell>
                <Checkbox
                  label={<span className="sr-only">{t`${sitting.title} is the baseline`}</span>}
                  checked={sitting.baseline}
                  onChange={(baseline) => place.mutate({ ...now, baseline })}
                />
              </Cell>
            </Row>
          );
        })}
      </Table>
      <p className="mt-1 text-xs text-graphite">{t`Growth is measured from the baseline, which is in no average. A sitting falls into a term by its day.`}</p>
    </Region>
  );
}

function Scale({ record }: { record: ClassRecord }) {
  const usual = useQuery({ queryKey: ["usual-scales"], queryFn: () => read(api.GET("/api/v1/usual-scales")) });
  const { rules } = record;
  const [name, setName] = useState(rules.scale_name);
  const [steps, setSteps] = useState(rules.scale_steps);
  const [missing, setMissing] = useState(rules.missing_is_zero);
  const [everywhere, setEverywhere] = useState(false);
  const say = useSay();
  const keep = useRecordChange(
    () =>
      read(
        api.PUT("/api/v1/classes/{class_id}/record/rules", {
          params: { path: { class_id: record.class_id } },
          body: {
            scale_name: name,
            scale_steps: steps,
            missing_is_zero: missing,
            other_weight: rules.other_weight,
            everywhere,
          },
        }),
      ),
    () => say(t`The scale is kept.`),
  );
  const own = name !== "" && !usual.data?.some((one) => one.name === name);
  const choose = (chosen: string) => {
    const found = usual.data?.find((one) => one.name === chosen);
    setName(chosen === "own" ? t`our scale` : chosen);
    if (found) setSteps(found.steps);
  };
  const set = (at: number, part: Partial<(typeof steps)[number]>) => {
    setSteps(steps.map((step, place) => (place === at ? { ...step, ...part } : step)));
    // A usual scale that was changed is one's own.
    if (!own) setName(t`our scale`);
  };
  return (
    <Region name={t`The scale`}>
      <form
        className="py-2"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate(undefined);
        }}
      >
        <Field label={t`A share of the marks is said as`}>
          {(id) => (
            <Choice id={id} value={own ? "own" : name} onChange={(event) => choose(event.target.value)}>
              <option value="">{t`percent`}</option>
              {usual.data?.map((one) => (
                <option key={one.name} value={one.name}>
                  {`${one.name}: ${one.steps.map((step) => step.word).join(", ")}`}
                </option>
              ))}
              <option value="own">{t`a scale of our own`}</option>
            </Choice>
          )}
        </Field>
        {own && (
          <Field label={t`What it is called`}>
            {(id) => (
              <TextInput
                id={id}
                maxLength={40}
                required
                value={name}
                onChange={(event) => setName(event.target.value)}
              />
            )}
          </Field>
        )}
        {name !== "" && (
          <fieldset className="mb-3">
            <legend className="mb-1 text-sm font-semibold">{t`Cut points`}</legend>
            {steps.map((step, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the steps stand where they stand
              <div key={at} className="mb-1 flex items-center gap-2 text-sm">
                <TextInput
                  className="max-w-32"
                  aria-label={t`Step ${at + 1}`}
                  maxLength={30}
                  value={step.word}
                  onChange={(event) => set(at, { word: event.target.value })}
                />
                {t`from`}
                <TextInput
                  className="max-w-20"
                  type="number"
                  min={0}
                  max={100}
                  step="any"
                  aria-label={t`From percent, step ${at + 1}`}
                  value={Math.round(1000 * step.least) / 10}
                  onChange={(event) => set(at, { least: event.target.valueAsNumber / 100 || 0 })}
                />
                %
                <Button
                  variant="quiet"
                  onClick={() => setSteps(steps.filter((_, place) => place !== at))}
                >{t`take out`}</Button>
              </div>
            ))}
            <Button
              variant="quiet"
              onClick={() => setSteps([...steps, { word: "", least: 0 }])}
            >{t`another step`}</Button>
          </fieldset>
        )}
        <Checkbox label={t`What is missing counts as nothing`} checked={missing} onChange={setMissing} />
        <Checkbox label={t`For all my classes`} checked={everywhere} onChange={setEverywhere} />
        <Problem error={usual.error ?? keep.error} />
        <Button type="submit" variant="main" className="mt-3" disabled={keep.isPending}>{t`Keep the scale`}</Button>
      </form>
    </Region>
  );
}

type CategoryLine = Schemas["CategoryBody"];

function Categories({ record }: { record: ClassRecord }) {
  const kept = record.categories.map(({ id, name, weight }) => ({ id, name, weight }));
  const [lines, setLines] = useState<CategoryLine[]>(kept);
  const [other, setOther] = useState(record.rules.other_weight);
  const say = useSay();
  const keep = useRecordChange(
    async () => {
      const params = { path: { class_id: record.class_id } };
      const { scale_name, scale_steps, missing_is_zero } = record.rules;
      await read(api.PUT("/api/v1/classes/{class_id}/record/categories", { params, body: { categories: lines } }));
      return read(
        api.PUT("/api/v1/classes/{class_id}/record/rules", {
          params,
          body: { scale_name, scale_steps, missing_is_zero, other_weight: other, everywhere: false },
        }),
      );
    },
    () => say(t`The categories are kept.`),
  );
  const set = (at: number, part: Partial<CategoryLine>) =>
    setLines(lines.map((one, place) => (place === at ? { ...one, ...part } : one)));
  const weight = (label: string, value: number, onChange: (value: number) => void) => (
    <TextInput
      className="max-w-20"
      type="number"
      min={0}
      max={1000}
      step="any"
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.valueAsNumber || 0)}
    />
  );
  return (
    <Region name={t`Categories and what they weigh`}>
      <form
        className="py-2 text-sm"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate(undefined);
        }}
      >
        {lines.map((line, at) => (
          <div key={line.id ?? `new ${at}`} className="mb-2 flex items-center gap-2">
            <TextInput
              className="max-w-44"
              aria-label={t`Category ${at + 1}`}
              maxLength={40}
              required
              value={line.name}
              onChange={(event) => set(at, { name: event.target.value })}
            />
            {t`weighs`}{" "}
            {weight(t`Weight of category ${at + 1}`, line.weight ?? 1, (value) => set(at, { weight: value }))}
            <Button
              variant="quiet"
              onClick={() => setLines(lines.filter((_, place) => place !== at))}
            >{t`take out`}</Button>
          </div>
        ))}
        <div className="mb-3 flex items-center gap-2">
          <span className="w-44">{lines.length ? t`Everything else` : t`Every sitting the same`}</span>
          {lines.length > 0 && (
            <>
              {t`weighs`} {weight(t`Weight of everything else`, other, setOther)}
            </>
          )}
        </div>
        <Problem error={keep.error} />
        <p className="flex gap-3">
          <Button onClick={() => setLines([...lines, { name: "", weight: 1 }])}>{t`Another category`}</Button>
          <Button type="submit" variant="main" disabled={keep.isPending}>{t`Keep them`}</Button>
        </p>
      </form>
    </Region>
  );
}
