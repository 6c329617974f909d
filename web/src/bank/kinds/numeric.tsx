import { t } from "@lingui/core/macro";
import { Button } from "../../ui/button";
import { Choice, Field, TextInput } from "../../ui/field";
import { changedAt } from "../../ui/lists";
import { NumberInput } from "../../ui/number-input";
import { TakeOut } from "../../ui/take-out";
import { IdeaNote } from "./parts";
import type { ContentOf, EditorProps } from "./types";

type Numeric = ContentOf<"numeric">;

const TOLERANCES: Record<Numeric["tolerance"], string> = {
  exact: t`exactly this value`,
  absolute: t`give or take`,
  percent: t`give or take, in percent`,
  figures: t`equal to so many significant figures`,
};
const UNITS: Record<Numeric["unit_rule"], string> = {
  none: t`a bare number`,
  accepted: t`a unit may be written`,
  required: t`the unit is part of the answer`,
};

export function NumericEditor({ content, onChange }: EditorProps<Numeric>) {
  const set = (part: Partial<Numeric>) => onChange({ ...content, ...part });
  return (
    <>
      <div className="grid gap-x-6 sm:grid-cols-2">
        {content.variation ? (
          <Field label={t`The right value, computed`} hint={t`From the values that vary: a*b, or (a + b)/2.`}>
            {(id) => (
              <TextInput
                id={id}
                maxLength={200}
                value={content.value_rule}
                onChange={(event) => set({ value_rule: event.target.value })}
              />
            )}
          </Field>
        ) : (
          <Field label={t`The right value`}>
            {() => (
              <NumberInput label={t`The right value`} value={content.value} onChange={(value) => set({ value })} />
            )}
          </Field>
        )}
        <Field label={t`An answer is right when it is`}>
          {(id) => (
            <div className="flex gap-2">
              <Choice
                id={id}
                value={content.tolerance}
                onChange={(event) => set({ tolerance: event.target.value as Numeric["tolerance"], amount: 0 })}
              >
                {Object.entries(TOLERANCES).map(([rule, words]) => (
                  <option key={rule} value={rule}>
                    {words}
                  </option>
                ))}
              </Choice>
              {content.tolerance !== "exact" && (
                <NumberInput
                  label={t`How much`}
                  className="w-24!"
                  min={0}
                  value={content.amount || null}
                  onChange={(amount) => set({ amount: amount ?? 0 })}
                />
              )}
            </div>
          )}
        </Field>
        <Field label={t`Students write`}>
          {(id) => (
            <Choice
              id={id}
              value={content.unit_rule}
              onChange={(event) => set({ unit_rule: event.target.value as Numeric["unit_rule"] })}
            >
              {Object.entries(UNITS).map(([rule, words]) => (
                <option key={rule} value={rule}>
                  {words}
                </option>
              ))}
            </Choice>
          )}
        </Field>
        {content.unit_rule !== "none" && (
          <Field
            label={t`Unit of the right value`}
            hint={
              content.unit_rule === "required" ? (
                <span className="flex items-center gap-2">
                  {t`without it`}
                  <NumberInput
                    label={t`Percent of the marks without the unit`}
                    className="w-20! py-0.5!"
                    min={0}
                    max={100}
                    value={Math.round(content.without_unit * 100)}
                    onChange={(share) => set({ without_unit: (share ?? 0) / 100 })}
                  />
                  {t`% of the marks`}
                </span>
              ) : (
                t`Others of its kind are converted: 200 mA is 0.2 A.`
              )
            }
          >
            {(id) => (
              <TextInput
                id={id}
                maxLength={24}
                value={content.unit}
                onChange={(event) => set({ unit: event.target.value })}
              />
            )}
          </Field>
        )}
      </div>
      <fieldset className="mb-4">
        <legend className="mb-2 text-sm font-semibold">{t`Wrong values that show an idea`}</legend>
        {content.ideas.map((idea, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a range has no name but its place
          <div key={at} className="mb-2">
            <div className="flex items-center gap-2 text-sm">
              {t`from`}
              <NumberInput
                label={t`Range ${at + 1} from`}
                className="w-28!"
                value={idea.low}
                onChange={(low) => set({ ideas: changedAt(content.ideas, at, { low }) })}
              />
              {t`to`}
              <NumberInput
                label={t`Range ${at + 1} to`}
                className="w-28!"
                value={idea.high}
                onChange={(high) => set({ ideas: changedAt(content.ideas, at, { high }) })}
              />
              <TakeOut
                what={t`range ${at + 1}`}
                onTake={() => set({ ideas: content.ideas.filter((_, other) => other !== at) })}
              />
            </div>
            <IdeaNote
              label={t`What range ${at + 1} shows`}
              value={idea.idea_note}
              onChange={(idea_note) => set({ ideas: changedAt(content.ideas, at, { idea_note }) })}
            />
          </div>
        ))}
        {content.ideas.length < 8 && (
          <Button
            onClick={() => set({ ideas: [...content.ideas, { low: null, high: null, idea_note: "" }] })}
          >{t`Add a range`}</Button>
        )}
      </fieldset>
    </>
  );
}
