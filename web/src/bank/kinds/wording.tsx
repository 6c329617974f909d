import { t } from "@lingui/core/macro";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { Choice, TextInput } from "../../ui/field";
import { changedAt } from "../../ui/lists";
import { TakeOut } from "../../ui/take-out";
import { IdeaNote, LinesField } from "./parts";

type Wording = Schemas["Wording"];

export const blankWording = (): Wording => ({
  accepted: [],
  patterns: [],
  case_matters: false,
  accents_matter: true,
  slips: 0,
  wrong: [],
});

/** What counts as right when words are typed, and which wrong ones show an idea. */
export function WordingFields({
  value,
  onChange,
  of = "",
}: {
  value: Wording;
  onChange: (value: Wording) => void;
  of?: string;
}) {
  const set = (part: Partial<Wording>) => onChange({ ...value, ...part });
  return (
    <>
      <LinesField
        label={t`Accepted answers${of}, one a line`}
        values={value.accepted}
        onChange={(accepted) => set({ accepted })}
      />
      <div className="-mt-2 mb-3 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm">
        <Checkbox
          label={t`capitals matter`}
          checked={value.case_matters}
          onChange={(case_matters) => set({ case_matters })}
        />
        <Checkbox
          label={t`accents matter`}
          checked={value.accents_matter}
          onChange={(accents_matter) => set({ accents_matter })}
        />
        <label className="flex items-center gap-2">
          {t`slips of spelling forgiven`}
          <Choice
            className="w-auto! py-0.5!"
            value={value.slips}
            onChange={(event) => set({ slips: Number(event.target.value) })}
          >
            {[t`none`, t`one`, t`two`, t`three`].map((words, slips) => (
              <option key={words} value={slips}>
                {words}
              </option>
            ))}
          </Choice>
        </label>
      </div>
      {value.wrong.map((wrong, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a wrong answer has no name but its place
        <div key={at} className="mb-2">
          <div className="flex items-center gap-2">
            <TextInput
              aria-label={t`Wrong answer ${at + 1}${of}`}
              className="font-serif"
              maxLength={300}
              placeholder={t`a wrong answer that shows an idea`}
              value={wrong.text}
              onChange={(event) => set({ wrong: changedAt(value.wrong, at, { text: event.target.value }) })}
            />
            <TakeOut
              what={t`wrong answer ${at + 1}${of}`}
              onTake={() => set({ wrong: value.wrong.filter((_, other) => other !== at) })}
            />
          </div>
          <IdeaNote
            label={t`What wrong answer ${at + 1}${of} shows`}
            value={wrong.idea_note}
            onChange={(idea_note) => set({ wrong: changedAt(value.wrong, at, { idea_note }) })}
          />
        </div>
      ))}
      <div className="mb-4 flex flex-wrap gap-3">
        <Button
          onClick={() => set({ wrong: [...value.wrong, { text: "", idea_note: "" }] })}
        >{t`Add a wrong answer`}</Button>
        {value.patterns.length === 0 && (
          <Button variant="quiet" onClick={() => set({ patterns: [""] })}>{t`accept by pattern`}</Button>
        )}
      </div>
      {value.patterns.length > 0 && (
        <LinesField
          label={t`Patterns${of}, one a line`}
          hint={t`Regular expressions that the whole answer must match: (series|in series) circuit`}
          values={value.patterns}
          onChange={(patterns) => set({ patterns })}
        />
      )}
    </>
  );
}
