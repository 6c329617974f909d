import { t } from "@lingui/core/macro";
import { useId } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Field, TextInput } from "../../ui/field";
import { changed } from "../../ui/lists";
import { RichField } from "../../ui/rich-field";
import { TakeOut } from "../../ui/take-out";
import { keepPictureAddress } from "../pictures";
import { KeyToggle } from "./key-toggle";
import { CreditChoice, IdeaNote, newId } from "./parts";
import type { ContentOf, EditorProps } from "./types";
import { blankWording, WordingFields } from "./wording";

type Gap = Schemas["Gap"];
const namesIn = (text: string) => [...new Set([...text.matchAll(/\[([a-z])\]/g)].map((found) => found[1] ?? ""))];
const blankGap = (name: string): Gap => ({ name, wording: blankWording(), choices: [], key: null });

export function GapsEditor({ content, onChange }: EditorProps<ContentOf<"gaps">>) {
  const names = namesIn(content.text);
  const gaps = names.map((name) => content.gaps.find((gap) => gap.name === name) ?? blankGap(name));
  const next = [..."abcdefghijklmnopqrstuvwxyz"].find((letter) => !names.includes(letter));
  const setGap = (gap: Gap) => onChange({ ...content, gaps: gaps.map((old) => (old.name === gap.name ? gap : old)) });
  return (
    <>
      <Field
        label={t`The text with its gaps`}
        hint={t`Write [${next ?? "a"}] where a gap is to be: The current in a series circuit is the [a] everywhere.`}
      >
        {() => (
          <RichField
            label={t`The text with its gaps`}
            className="font-serif"
            value={content.text}
            onPicture={keepPictureAddress}
            onChange={(text) => {
              const there = namesIn(text);
              const kept = there.map((name) => gaps.find((gap) => gap.name === name) ?? blankGap(name));
              onChange({ ...content, text, gaps: kept });
            }}
          />
        )}
      </Field>
      {next && (
        <Button
          className="-mt-2 mb-4"
          onClick={() => onChange({ ...content, text: withGap(content.text, next), gaps: [...gaps, blankGap(next)] })}
        >{t`Add gap ${next} at the end`}</Button>
      )}
      {gaps.map((gap) => (
        <GapFields key={gap.name} gap={gap} onChange={setGap} />
      ))}
      <CreditChoice value={content.credit} onChange={(credit) => onChange({ ...content, credit })} />
    </>
  );
}

const withGap = (text: string, name: string) =>
  text.endsWith("</p>") ? `${text.slice(0, -4)} [${name}]</p>` : `${text} [${name}]`.trim();

function GapFields({ gap, onChange }: { gap: Gap; onChange: (gap: Gap) => void }) {
  const name = useId();
  const listed = gap.choices.length > 0;
  const blank = () => ({ id: newId(), text: "", idea_note: "" });
  return (
    <fieldset className="mb-4 border-s-2 border-hairline ps-3">
      <legend className="flex items-baseline gap-4 py-1 text-sm">
        <strong>{t`Gap ${gap.name}`}</strong>
        <Button
          variant="quiet"
          onClick={() => onChange({ ...gap, choices: listed ? [] : [blank(), blank(), blank()], key: null })}
        >
          {listed ? t`let them type it` : t`give a list to pick from`}
        </Button>
      </legend>
      {listed ? (
        <>
          {gap.choices.map((choice, at) => (
            <div key={choice.id} className="mb-2 flex items-start gap-2.5">
              <KeyToggle
                letter={String(at + 1)}
                on={gap.key === choice.id}
                name={name}
                onChoose={() => onChange({ ...gap, key: choice.id })}
              />
              <div className="min-w-0 flex-1">
                <TextInput
                  aria-label={t`Gap ${gap.name}, word ${at + 1}`}
                  className="font-serif"
                  maxLength={300}
                  value={choice.text}
                  onChange={(event) =>
                    onChange({ ...gap, choices: changed(gap.choices, choice.id, { text: event.target.value }) })
                  }
                />
                {gap.key !== choice.id && (
                  <IdeaNote
                    label={t`What word ${at + 1} in gap ${gap.name} shows`}
                    value={choice.idea_note}
                    onChange={(idea_note) =>
                      onChange({ ...gap, choices: changed(gap.choices, choice.id, { idea_note }) })
                    }
                  />
                )}
              </div>
              {gap.choices.length > 2 && (
                <TakeOut
                  what={t`word ${at + 1}`}
                  onTake={() =>
                    onChange({
                      ...gap,
                      choices: gap.choices.filter((other) => other.id !== choice.id),
                      key: gap.key === choice.id ? null : (gap.key ?? null),
                    })
                  }
                />
              )}
            </div>
          ))}
          {gap.choices.length < 10 && (
            <Button onClick={() => onChange({ ...gap, choices: [...gap.choices, blank()] })}>{t`Add a word`}</Button>
          )}
        </>
      ) : (
        <WordingFields
          value={gap.wording}
          of={t` of gap ${gap.name}`}
          onChange={(wording) => onChange({ ...gap, wording })}
        />
      )}
    </fieldset>
  );
}
