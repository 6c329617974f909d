import { t } from "@lingui/core/macro";
import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { changed } from "../../ui/lists";
import { TakeOut } from "../../ui/take-out";
import { IdeaNote, letterOf, newId, RichLine } from "./parts";

const MOST = 8;
const FEWEST = 2;
type Option = Schemas["Option"];

export const blankOption = (): Option => ({ id: newId(), text: "", idea_note: "", stays_last: false });

type Props = {
  legend: string;
  options: Option[];
  keys: string[];
  onChange: (options: Option[]) => void;
  /** The round or square place before an option that makes it a key. */
  toggle: (option: Option, letter: string) => ReactNode;
};

/** Lettered options, each wrong one with the idea it shows. */
export function OptionRows({ legend, options, keys, onChange, toggle }: Props) {
  return (
    <fieldset className="mb-4">
      <legend className="mb-2 text-sm font-semibold">{legend}</legend>
      {options.map((option, place) => {
        const letter = letterOf(place);
        return (
          <div key={option.id} className="mb-3 flex items-start gap-2.5">
            {toggle(option, letter)}
            <div className="min-w-0 flex-1">
              <RichLine
                label={t`Option ${letter}`}
                value={option.text}
                onChange={(text) => onChange(changed(options, option.id, { text }))}
              />
              {!keys.includes(option.id) && (
                <IdeaNote
                  label={t`What choosing ${letter} shows`}
                  value={option.idea_note}
                  onChange={(idea_note) => onChange(changed(options, option.id, { idea_note }))}
                />
              )}
              {place === options.length - 1 && (
                <Checkbox
                  label={t`stays last when a form shuffles the options`}
                  checked={option.stays_last}
                  onChange={(stays_last) => onChange(changed(options, option.id, { stays_last }))}
                />
              )}
            </div>
            {options.length > FEWEST && (
              <TakeOut
                what={t`option ${letter}`}
                onTake={() => onChange(options.filter((other) => other.id !== option.id))}
              />
            )}
          </div>
        );
      })}
      {options.length < MOST && (
        <Button
          onClick={() =>
            // A new option goes before one that stays last, and two never claim the end by accident.
            onChange([...options.map((option) => ({ ...option, stays_last: false })), blankOption()])
          }
        >{t`Add an option`}</Button>
      )}
    </fieldset>
  );
}
