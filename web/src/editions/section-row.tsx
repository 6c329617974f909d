import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { keepPictureAddress } from "../bank/pictures";
import { useSkills } from "../bank/skill-picker";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Choice, TextInput } from "../ui/field";
import { changedAt } from "../ui/lists";
import { NumberInput } from "../ui/number-input";
import { RichField } from "../ui/rich-field";
import { TakeOut } from "../ui/take-out";
import type { Section } from "./layout";

type Props = {
  section: Section;
  alone: boolean;
  first: boolean;
  problem: Schemas["Check"] | undefined;
  onChange: (part: Partial<Section>) => void;
  onTake: () => void;
};

/** The head of a section: its title and instructions, how many to answer, what is drawn. */
export function SectionRow({ section, alone, first, problem, onChange, onTake }: Props) {
  const [open, setOpen] = useState(false);
  const facts = [
    section.choose ? t`students choose ${section.choose}` : "",
    section.draws.length > 0 ? t`${plural(sum(section), { one: "# question", other: "# questions" })} drawn` : "",
    section.new_page ? t`starts a page` : "",
  ].filter(Boolean);
  if (alone && !open && !section.title && !section.instructions && facts.length === 0)
    return (
      <p className="py-1 text-end text-sm">
        <Button variant="quiet" onClick={() => setOpen(true)}>{t`title, choice or drawn questions`}</Button>
      </p>
    );
  return (
    <div className="border-b-2 border-ink pt-3 pb-1.5" id={`row-${section.ref}`}>
      <div className="flex items-center gap-3">
        <TextInput
          aria-label={t`Title of the section`}
          className="border-transparent! font-serif text-lg font-semibold hover:border-edge! focus:border-iris!"
          placeholder={t`Section without a title`}
          maxLength={200}
          value={section.title}
          onChange={(event) => onChange({ title: event.target.value })}
        />
        {facts.length > 0 && <span className="shrink-0 text-sm text-graphite">{facts.join(", ")}</span>}
        <Button variant="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? t`close` : t`set up`}
        </Button>
        {!first && (
          <Button
            variant="quiet"
            aria-label={t`Take out the section ${section.title}`}
            onClick={onTake}
          >{t`take out`}</Button>
        )}
      </div>
      {problem && <p className="px-2.5 text-sm text-ochre">◐ {problem.says}</p>}
      {open && (
        <div className="px-2.5 pt-2 pb-1">
          <RichField
            label={t`Instructions of the section`}
            placeholder={t`Instructions, if it needs its own`}
            value={section.instructions}
            onPicture={keepPictureAddress}
            onChange={(instructions) => onChange({ instructions })}
          />
          <div className="mt-2 flex flex-wrap items-center gap-x-6 gap-y-1 text-sm">
            <label className="flex items-center gap-2">
              {t`Students answer`}
              <Choice
                className="w-auto! py-0.5!"
                value={section.choose ?? ""}
                onChange={(event) => onChange({ choose: event.target.value ? Number(event.target.value) : null })}
              >
                <option value="">{t`all of it`}</option>
                {upTo(section.entries.length + sum(section) - 1).map((count) => (
                  <option key={count} value={count}>
                    {t`any ${count}`}
                  </option>
                ))}
              </Choice>
            </label>
            <Checkbox
              label={t`starts on a new page`}
              checked={section.new_page}
              onChange={(new_page) => onChange({ new_page })}
            />
          </div>
          <Draws section={section} onChange={onChange} />
        </div>
      )}
    </div>
  );
}

const upTo = (most: number) => Array.from({ length: Math.max(1, most) }, (_, at) => at + 1);
const sum = (section: Section) => section.draws.reduce((total, rule) => total + rule.count, 0);

/** Questions that are drawn from the bank when the test is frozen. */
function Draws({ section, onChange }: Pick<Props, "section" | "onChange">) {
  const skills = useSkills().data ?? [];
  const { draws } = section;
  const set = (at: number, part: Partial<Section["draws"][number]>) => onChange({ draws: changedAt(draws, at, part) });
  return (
    <div className="mt-2 text-sm">
      {draws.map((rule, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a rule has no name but its place
        <div key={at} className="mb-1.5 flex flex-wrap items-center gap-2">
          {t`draw`}
          <NumberInput
            label={t`How many to draw, rule ${at + 1}`}
            className="w-16! py-0.5!"
            min={1}
            max={50}
            step={1}
            value={rule.count}
            onChange={(count) => count && set(at, { count })}
          />
          {t`on`}
          <Choice
            aria-label={t`Skill to draw from, rule ${at + 1}`}
            className="w-auto! max-w-48 py-0.5!"
            value={rule.skill}
            onChange={(event) => set(at, { skill: event.target.value })}
          >
            {skills.map((skill) => (
              <option key={skill.id}>{skill.name}</option>
            ))}
          </Choice>
          <Choice
            aria-label={t`Difficulty to draw, rule ${at + 1}`}
            className="w-auto! py-0.5!"
            value={`${rule.low} ${rule.high}`}
            onChange={(event) => {
              const [low = 0, high = 1] = event.target.value.split(" ").map(Number);
              set(at, { low, high });
            }}
          >
            <option value="0 1">{t`of any difficulty`}</option>
            <option value="0.8 1">{t`easy: p .80 or more`}</option>
            <option value="0.4 0.8">{t`middling: p .40 to .80`}</option>
            <option value="0 0.4">{t`hard: p under .40`}</option>
          </Choice>
          <TakeOut
            what={t`rule ${at + 1}`}
            onTake={() => onChange({ draws: draws.filter((_, other) => other !== at) })}
          />
        </div>
      ))}
      <Button
        disabled={skills.length === 0}
        onClick={() => onChange({ draws: [...draws, { skill: skills[0]?.name ?? "", count: 2, low: 0, high: 1 }] })}
      >{t`Draw questions by skill`}</Button>
    </div>
  );
}
