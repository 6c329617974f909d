import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { Choice, Field, TextArea, TextInput } from "../../ui/field";
import { changed, changedAt } from "../../ui/lists";
import { NumberInput } from "../../ui/number-input";
import { RichField } from "../../ui/rich-field";
import { TakeOut } from "../../ui/take-out";
import { amount } from "../../ui/words";
import { keepPictureAddress } from "../pictures";
import { newId } from "./parts";

type Rubric = Schemas["Rubric"];
type Criterion = Schemas["Criterion"];

export const blankRubric = (): Rubric => ({ criteria: [blankCriterion()], exemplars: [] });
const blankCriterion = (): Criterion => ({
  id: newId(),
  name: "",
  max: 4,
  levels: [4, 3, 2, 1, 0].map((points) => ({ points, words: "" })),
});

type Props = { rubric: Rubric; onChange: (rubric: Rubric) => void; marks: number };

/** Criteria with their levels in words, and sample answers with what they earn. */
function RubricEditor({ rubric, onChange, marks }: Props) {
  const { criteria, exemplars } = rubric;
  const set = (part: Partial<Rubric>) => onChange({ ...rubric, ...part });
  const total = criteria.reduce((sum, criterion) => sum + criterion.max, 0);
  return (
    <>
      <fieldset className="mb-4">
        <legend className="mb-1 flex w-full items-baseline gap-4 text-sm">
          <strong>{t`Rubric`}</strong>
          <span className="text-graphite">
            {t`${amount(total, total % 1 ? 1 : 0)} points in all`}
            {total !== marks && t`, counted as ${marks} marks`}
          </span>
        </legend>
        {criteria.map((criterion, at) => (
          <CriterionFields
            key={criterion.id}
            criterion={criterion}
            number={at + 1}
            onChange={(part) => set({ criteria: changed(criteria, criterion.id, part) })}
            {...(criteria.length > 1
              ? {
                  onTake: () =>
                    set({
                      criteria: criteria.filter((other) => other.id !== criterion.id),
                      exemplars: exemplars.map((exemplar) => {
                        const { [criterion.id]: _gone, ...points } = exemplar.points;
                        const { [criterion.id]: _why, ...reasons } = exemplar.reasons ?? {};
                        return { ...exemplar, points, reasons };
                      }),
                    }),
                }
              : {})}
          />
        ))}
        <div className="flex flex-wrap items-center gap-3">
          {criteria.length < 12 && (
            <Button onClick={() => set({ criteria: [...criteria, blankCriterion()] })}>{t`Add a criterion`}</Button>
          )}
          <CopyRubric onCopy={onChange} />
        </div>
      </fieldset>
      <fieldset className="mb-4">
        <legend className="mb-2 text-sm font-semibold">{t`Sample answers with their marks`}</legend>
        {exemplars.map((exemplar, at) => (
          <div key={exemplar.id} className="mb-3 border-s-2 border-hairline ps-3">
            <div className="mb-1 flex items-center gap-2">
              <TextInput
                aria-label={t`Name of sample answer ${at + 1}`}
                placeholder={t`a strong answer`}
                maxLength={300}
                value={exemplar.name}
                onChange={(event) => set({ exemplars: changed(exemplars, exemplar.id, { name: event.target.value }) })}
              />
              <TakeOut
                what={t`sample answer ${at + 1}`}
                onTake={() => set({ exemplars: exemplars.filter((other) => other.id !== exemplar.id) })}
              />
            </div>
            <RichField
              label={t`Sample answer ${at + 1}`}
              className="font-serif"
              value={exemplar.text}
              onPicture={keepPictureAddress}
              onChange={(text) => set({ exemplars: changed(exemplars, exemplar.id, { text }) })}
            />
            <div className="mt-1 grid gap-1 text-sm">
              {criteria.map((criterion, place) => (
                <div key={criterion.id} className="flex flex-wrap items-center gap-2">
                  <span className="min-w-32">{criterion.name || t`criterion ${place + 1}`}</span>
                  <NumberInput
                    label={t`Points of sample answer ${at + 1} for criterion ${place + 1}`}
                    className="w-16! py-0.5!"
                    min={0}
                    max={criterion.max}
                    step={0.5}
                    value={exemplar.points[criterion.id]}
                    onChange={(points) => {
                      const { [criterion.id]: _old, ...others } = exemplar.points;
                      const next = points === null ? others : { ...others, [criterion.id]: points };
                      set({ exemplars: changed(exemplars, exemplar.id, { points: next }) });
                    }}
                  />
                  <TextInput
                    aria-label={t`Why sample answer ${at + 1} has these points for criterion ${place + 1}`}
                    placeholder={t`why`}
                    className="min-w-40 flex-1 py-0.5!"
                    maxLength={300}
                    value={exemplar.reasons?.[criterion.id] ?? ""}
                    onChange={(event) => {
                      const { [criterion.id]: _old, ...others } = exemplar.reasons ?? {};
                      const reason = event.target.value;
                      const next = reason ? { ...others, [criterion.id]: reason } : others;
                      set({ exemplars: changed(exemplars, exemplar.id, { reasons: next }) });
                    }}
                  />
                </div>
              ))}
            </div>
          </div>
        ))}
        {exemplars.length < 12 && (
          <Button
            onClick={() =>
              set({
                exemplars: [...exemplars, { id: newId(), name: "", text: "", points: {}, reasons: {}, remark: "" }],
              })
            }
          >{t`Add a sample answer`}</Button>
        )}
      </fieldset>
    </>
  );
}

type CriterionProps = {
  criterion: Criterion;
  number: number;
  onChange: (part: Partial<Criterion>) => void;
  onTake?: () => void;
};

function CriterionFields({ criterion, number, onChange, onTake }: CriterionProps) {
  const { levels } = criterion;
  return (
    <div className="mb-3 border-s-2 border-hairline ps-3">
      <div className="mb-1 flex items-center gap-2 text-sm">
        <TextInput
          aria-label={t`Name of criterion ${number}`}
          className="font-semibold"
          placeholder={t`criterion ${number}`}
          maxLength={300}
          value={criterion.name}
          onChange={(event) => onChange({ name: event.target.value })}
        />
        <span className="shrink-0">{t`up to`}</span>
        <NumberInput
          label={t`Most points of criterion ${number}`}
          className="w-20!"
          min={0.5}
          max={1000}
          step={0.5}
          value={criterion.max}
          onChange={(max) => max && onChange({ max })}
        />
        {onTake && <TakeOut what={t`criterion ${number}`} onTake={onTake} />}
      </div>
      {levels.map((level, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a level has no name but its place
        <div key={at} className="flex items-baseline gap-2 text-sm">
          <NumberInput
            label={t`Points of level ${at + 1} of criterion ${number}`}
            className="w-16! py-0.5!"
            min={0}
            max={criterion.max}
            step={0.5}
            value={level.points}
            onChange={(points) => points !== null && onChange({ levels: changedAt(levels, at, { points }) })}
          />
          <TextArea
            rows={1}
            aria-label={t`Level ${at + 1} of criterion ${number} in words`}
            className="min-w-0 py-0.5!"
            maxLength={600}
            placeholder={t`what it takes`}
            value={level.words}
            onChange={(event) => onChange({ levels: changedAt(levels, at, { words: event.target.value }) })}
          />
          <TakeOut
            what={t`level ${at + 1} of criterion ${number}`}
            onTake={() => onChange({ levels: levels.filter((_, other) => other !== at) })}
          />
        </div>
      ))}
      <Button
        variant="quiet"
        onClick={() => onChange({ levels: [...levels, { points: nextPoints(criterion), words: "" }] })}
      >{t`add a level`}</Button>
    </div>
  );
}

const nextPoints = ({ max, levels }: Criterion) => {
  const taken = levels.map((level) => level.points);
  for (let points = max; points >= 0; points -= 0.5) if (!taken.includes(points)) return points;
  return 0;
};

/** A rubric of another question, to start from. */
function CopyRubric({ onCopy }: { onCopy: (rubric: Rubric) => void }) {
  const [open, setOpen] = useState(false);
  const rubrics = useQuery({
    queryKey: ["rubrics"],
    queryFn: () => read(api.GET("/api/v1/rubrics")),
    enabled: open,
  });
  if (!open)
    return <Button variant="quiet" onClick={() => setOpen(true)}>{t`copy the rubric of another question`}</Button>;
  return (
    <Choice
      aria-label={t`Copy the rubric of`}
      className="w-auto! max-w-72"
      defaultValue=""
      onChange={(event) => {
        const found = rubrics.data?.find((line) => line.id === event.target.value);
        if (found) onCopy(found.rubric);
        setOpen(false);
      }}
    >
      <option value="">{rubrics.data?.length === 0 ? t`no other question has one` : t`copy from…`}</option>
      {rubrics.data?.map((line) => (
        <option key={line.id} value={line.id}>
          {line.words}
        </option>
      ))}
    </Choice>
  );
}

/** What the three kinds that a person marks have in common. */
export function ByRubricFields<C extends { rubric: Rubric; show_rubric: boolean; marks: number }>({
  content,
  onChange,
}: {
  content: C;
  onChange: (content: C) => void;
}) {
  return (
    <>
      <Checkbox
        label={t`students see the criteria beside the task`}
        checked={content.show_rubric}
        onChange={(show_rubric) => onChange({ ...content, show_rubric })}
      />
      <div className="mt-3">
        <RubricEditor
          rubric={content.rubric}
          marks={content.marks}
          onChange={(rubric) => onChange({ ...content, rubric })}
        />
      </div>
    </>
  );
}

/** A whole number in an editor, with its label above it. */
export function CountField(props: {
  label: string;
  hint?: string;
  value: number;
  max: number;
  onChange: (n: number) => void;
}) {
  const { label, hint, value, max, onChange } = props;
  return (
    <Field label={label} hint={hint}>
      {() => (
        <NumberInput
          label={label}
          min={0}
          max={max}
          step={1}
          value={value}
          onChange={(count) => onChange(count ?? 0)}
        />
      )}
    </Field>
  );
}
