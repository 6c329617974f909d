import { t } from "@lingui/core/macro";
import { Choice, TextInput } from "../ui/field";
import { KINDS } from "./kinds";
import { useSkills } from "./skill-picker";

export type Wanted = {
  search: string;
  skill: string;
  kind: string;
  difficulty: "" | "easy" | "middle" | "hard" | "unknown";
  used: "" | "used" | "unused";
  flagged: "" | "flagged" | "clean";
  unfinished: boolean;
};
export const NO_FILTERS: Wanted = {
  search: "",
  skill: "",
  kind: "",
  difficulty: "",
  used: "",
  flagged: "",
  unfinished: false,
};

const kinds = Object.fromEntries(Object.entries(KINDS).map(([kind, { name }]) => [kind, name.toLowerCase()]));
const LISTS: { part: keyof Wanted; label: string; any: string; options: Record<string, string> }[] = [
  { part: "kind", label: t`Only this kind`, any: t`every kind`, options: kinds },
  {
    part: "difficulty",
    label: t`Only this difficulty`,
    any: t`any difficulty`,
    options: { easy: t`easy`, middle: t`middling`, hard: t`hard`, unknown: t`not known yet` },
  },
  { part: "used", label: t`Used or not`, any: t`used or not`, options: { used: t`used`, unused: t`never used` } },
  {
    part: "flagged",
    label: t`Flagged or not`,
    any: t`flagged or not`,
    options: { flagged: t`flagged last time`, clean: t`not flagged` },
  },
];

/** Finding by typing, and the lists that narrow it down. */
export function Filters({ wanted, onChange }: { wanted: Wanted; onChange: (wanted: Wanted) => void }) {
  const skills = useSkills();
  const select = (part: keyof Wanted, label: string, any: string, options: Record<string, string>) => (
    <Choice
      key={part}
      aria-label={label}
      className="w-auto! max-w-40 py-1! text-sm"
      value={String(wanted[part])}
      onChange={(event) => onChange({ ...wanted, [part]: event.target.value })}
    >
      <option value="">{any}</option>
      {Object.entries(options).map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </Choice>
  );
  const names = Object.fromEntries(skills.data?.map((skill) => [skill.name, skill.name]) ?? []);
  return (
    <div className="mb-3">
      <TextInput
        type="search"
        aria-label={t`Find questions`}
        placeholder={t`Find by words, keyword, skill or author`}
        value={wanted.search}
        onChange={(event) => onChange({ ...wanted, search: event.target.value })}
      />
      <div className="mt-2 flex flex-wrap gap-1.5">
        {select("skill", t`Only this skill`, t`every skill`, names)}
        {LISTS.map(({ part, label, any, options }) => select(part, label, any, options))}
      </div>
    </div>
  );
}
