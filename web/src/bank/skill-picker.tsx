import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Field, TextInput } from "../ui/field";
import { Chip } from "../ui/spread";

/** The skills an item tests: chosen from those there are, or a new one by typing it. */
export function SkillPicker({ skills, onChange }: { skills: string[]; onChange: (skills: string[]) => void }) {
  const [typed, setTyped] = useState("");
  const known = useQuery({ queryKey: ["skills"], queryFn: () => read(api.GET("/api/skills")) });
  const add = (name: string) => {
    const clean = name.trim();
    if (clean && !skills.includes(clean)) onChange([...skills, clean]);
    setTyped("");
  };
  const names = known.data?.map((skill) => skill.name) ?? [];
  return (
    <Field label="Skill" hint={skills.length === 0 ? "Type what it tests and press Enter." : undefined}>
      {(id) => (
        <div className="flex flex-wrap items-center gap-2">
          {skills.map((name) => (
            <Chip key={name}>
              {name}{" "}
              <Button
                look="quiet"
                className="min-h-0!"
                aria-label={`Take off ${name}`}
                onClick={() => onChange(skills.filter((skill) => skill !== name))}
              >
                ×
              </Button>
            </Chip>
          ))}
          <TextInput
            id={id}
            className="w-52!"
            list={`${id}-known`}
            maxLength={120}
            value={typed}
            onChange={(event) =>
              names.includes(event.target.value) ? add(event.target.value) : setTyped(event.target.value)
            }
            onBlur={() => add(typed)}
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              event.preventDefault();
              add(typed);
            }}
          />
          <datalist id={`${id}-known`}>
            {names
              .filter((name) => !skills.includes(name))
              .map((name) => (
                <option key={name} value={name} />
              ))}
          </datalist>
        </div>
      )}
    </Field>
  );
}
