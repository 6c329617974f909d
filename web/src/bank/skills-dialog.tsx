import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { Dialog } from "../ui/dialog";
import { Choice, Problem, TextInput } from "../ui/field";
import { base64 } from "../ui/files";
import { ScrollBox } from "../ui/scroll-box";
import { TakeOut } from "../ui/take-out";
import { useSay } from "../ui/undo";
import { useSkills } from "./skill-picker";

type Skill = Schemas["SkillLine"];

/** The tree of skills: renamed and moved here, brought in from a framework, sent on. */
export function SkillsDialog({ onClose }: { onClose: () => void }) {
  const skills = useSkills().data ?? [];
  const rows = inTree(skills, null, 0);
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Skills`}
      says={t`What questions test. A search for a skill finds those below it too.`}
    >
      <FromFramework />
      <ScrollBox label={t`The tree of skills`}>
        <ul>
          {rows.map(({ skill, depth }) => (
            <SkillRow key={skill.id} skill={skill} depth={depth} skills={skills} />
          ))}
        </ul>
      </ScrollBox>
      <div className="mt-4 flex justify-between">
        <Button onClick={() => location.assign("/api/v1/skills/send")}>{t`Save them as CASE`}</Button>
        <Button onClick={onClose}>{t`Close`}</Button>
      </div>
    </Dialog>
  );
}

const inTree = (skills: Skill[], parent: number | null, depth: number): { skill: Skill; depth: number }[] =>
  depth > 12
    ? []
    : skills
        .filter((skill) => (skill.parent ?? null) === parent)
        .flatMap((skill) => [{ skill, depth }, ...inTree(skills, skill.id, depth + 1)]);

function SkillRow({ skill, depth, skills }: { skill: Skill; depth: number; skills: Skill[] }) {
  const client = useQueryClient();
  const say = useSay();
  const keep = useMutation({
    mutationFn: (part: Partial<Schemas["SkillChange"]>) =>
      read(
        api.PUT("/api/v1/skills/{skill_id}", {
          params: { path: { skill_id: skill.id } },
          body: { name: skill.name, parent: skill.parent ?? null, code: skill.code, ...part },
        }),
      ),
    onSuccess: () => client.invalidateQueries(),
  });
  const remove = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/skills/{skill_id}", { params: { path: { skill_id: skill.id } } })),
    onSuccess: () => {
      client.invalidateQueries();
      say(t`${skill.name} is gone. Its questions stay; what stood below it moved up.`);
    },
  });
  return (
    <li className="border-b border-hairline py-1" style={{ paddingLeft: `${depth * 1.25}rem` }}>
      <div className="flex items-center gap-2">
        <TextInput
          aria-label={t`Code of ${skill.name}`}
          className="w-24! py-0.5! text-sm"
          placeholder={t`code`}
          maxLength={60}
          defaultValue={skill.code}
          onBlur={(event) => event.target.value !== skill.code && keep.mutate({ code: event.target.value })}
        />
        <TextInput
          aria-label={t`Name of ${skill.name}`}
          className="min-w-0 flex-1 py-0.5!"
          maxLength={120}
          defaultValue={skill.name}
          onBlur={(event) => event.target.value !== skill.name && keep.mutate({ name: event.target.value })}
        />
        <Choice
          aria-label={t`Skill above ${skill.name}`}
          className="w-44! py-0.5! text-sm"
          value={skill.parent ?? ""}
          onChange={(event) => keep.mutate({ parent: event.target.value ? Number(event.target.value) : null })}
        >
          <option value="">{t`at the top`}</option>
          {skills
            .filter((other) => other.id !== skill.id)
            .map((skill) => (
              <option key={skill.id} value={skill.id}>
                {t`below ${skill.name}`}
              </option>
            ))}
        </Choice>
        <TakeOut what={t`the skill ${skill.name}`} onTake={() => remove.mutate()} />
      </div>
      <Problem error={keep.error ?? remove.error} />
    </li>
  );
}

/** A published framework in CASE 1.0: looked at, then brought in. */
function FromFramework() {
  const [data, setData] = useState("");
  const client = useQueryClient();
  const say = useSay();
  const send = (body: string, look: boolean) =>
    read(
      api.POST("/api/v1/skills/bring", {
        params: { query: { look } },
        body: { name: "", data: body, without_wrong: false },
      }),
    );
  const look = useMutation({
    mutationFn: async (file: File) => {
      const body = await base64(file);
      setData(body);
      return send(body, true);
    },
  });
  const bring = useMutation({
    mutationFn: () => send(data, false),
    onSuccess: (done) => {
      client.invalidateQueries();
      look.reset();
      say(t`${plural(done.new.length, { one: "# skill", other: "# skills" })} brought in.`);
    },
  });
  const found = look.data;
  return (
    <div className="mb-4">
      <ChooseFile
        label={t`File with a framework of skills`}
        accept=".json"
        hint={t`a framework in CASE (JSON)`}
        onFile={(file) => look.mutate(file)}
      />
      <Problem error={look.error ?? bring.error} />
      {found && (
        <p className="flex flex-wrap items-center gap-3">
          <span>
            {found.title && <strong>{found.title}: </strong>}
            {t`${found.new.length} new, ${found.changed.length} changed, ${found.same} as they are`}
            {found.lost.length > 0 && (
              <span className="text-ochre"> {t`· ◐ not carried: ${found.lost.join(", ")}`}</span>
            )}
          </span>
          <Button
            variant="main"
            disabled={found.new.length + found.changed.length === 0}
            onClick={() => bring.mutate()}
          >{t`Bring them in`}</Button>
        </p>
      )}
    </div>
  );
}
