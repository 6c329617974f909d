import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { WordPicker } from "../ui/word-picker";

export const useSkills = () => useQuery({ queryKey: ["skills"], queryFn: () => read(api.GET("/api/v1/skills")) });

/** The skills an item tests: chosen from those there are, or a new one by typing it. */
export function SkillPicker({ skills, onChange }: { skills: string[]; onChange: (skills: string[]) => void }) {
  const known = useSkills().data?.map((skill) => skill.name) ?? [];
  return (
    <WordPicker
      label={t`Skill`}
      words={skills}
      known={known}
      onChange={onChange}
      hint={t`Type what it tests and press Enter.`}
    />
  );
}
