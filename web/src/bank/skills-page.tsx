import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { CompactSelect } from "../ui/compact-select";
import { Dialog } from "../ui/dialog";
import { Problem, TextInput } from "../ui/field";
import { base64 } from "../ui/files";
import { ListTools, useTyped } from "../ui/list-tools";
import { Empty, Page } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { useSkills } from "./skill-picker";

type Skill = Schemas["SkillLine"];

/** The tree of skills in one place: made, renamed, moved, put in order, merged; brought in from a framework, sent on. */
export function SkillsPage() {
  const asked = useSkills();
  const skills = asked.data ?? [];
  const { typed, type, holds } = useTyped();
  const [bringing, setBringing] = useState(false);
  const rows = inTree(skills, null, 0).filter(({ skill }) => holds(`${skill.code} ${skill.name}`));
  return (
    <Page
      title={t`Skills`}
      facts={skills.length > 0 && t`a search for a skill finds those below it too`}
      actions={
        <>
          <ButtonLink to="/bank">{t`Bank`}</ButtonLink>
          <Button onClick={() => setBringing(true)}>{t`From a framework…`}</Button>
          <Button onClick={() => location.assign("/api/v1/skills/send")}>{t`Save them as CASE`}</Button>
        </>
      }
    >
      <div className="px-6 py-4 lg:overflow-y-auto">
        <Problem error={asked.error} />
        <NewSkill />
        {asked.data && skills.length === 0 && (
          <Empty
            title={t`No skill yet.`}
            action={null}
          >{t`A skill is what questions test: name it here, or beside a question. Plans, findings and records go by it.`}</Empty>
        )}
        <ListTools
          name={t`Find a skill`}
          hint={t`Find by name or code`}
          typed={typed}
          onType={type}
          count={skills.length}
        />
        <ul>
          {rows.map(({ skill, depth }) => (
            <SkillRow key={skill.id} skill={skill} depth={depth} skills={skills} />
          ))}
        </ul>
      </div>
      <Dialog
        open={bringing}
        onClose={() => setBringing(false)}
        title={t`Skills from a framework`}
        says={t`What is new is added, what you have is kept.`}
      >
        <FromFramework />
      </Dialog>
    </Page>
  );
}

function NewSkill() {
  const [name, setName] = useState("");
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => read(api.POST("/api/v1/skills", { body: { name, parent: null, code: "" } })),
    onSuccess: () => {
      setName("");
      return client.invalidateQueries({ queryKey: ["skills"] });
    },
  });
  return (
    <form
      className="mb-4 flex flex-wrap items-center gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <TextInput
        aria-label={t`Name of a new skill`}
        placeholder={t`Name of a new skill`}
        className="max-w-md flex-1 basis-60"
        required
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <Button type="submit" variant="main" disabled={make.isPending}>{t`Make it`}</Button>
      <Problem error={make.error} />
    </form>
  );
}

const childrenOf = (skills: Skill[], parent: number | null) =>
  skills.filter((skill) => (skill.parent ?? null) === parent);

const inTree = (skills: Skill[], parent: number | null, depth: number): { skill: Skill; depth: number }[] =>
  depth > 12
    ? []
    : childrenOf(skills, parent).flatMap((skill) => [{ skill, depth }, ...inTree(skills, skill.id, depth + 1)]);

function SkillRow({ skill, depth, skills }: { skill: Skill; depth: number; skills: Skill[] }) {
  const client = useQueryClient();
  const say = useSay();
  const [asks, setAsks] = useState<"merge" | "remove" | null>(null);
  const [into, setInto] = useState("");
  const params = { path: { skill_id: skill.id } };
  const renewed = () => client.invalidateQueries();
  const put = (part: Partial<Schemas["SkillChange"]>) => {
    const body = { name: skill.name, parent: skill.parent ?? null, code: skill.code, ...part };
    return read(api.PUT("/api/v1/skills/{skill_id}", { params, body }));
  };
  const keep = useMutation({ mutationFn: put, onSuccess: renewed });
  const remove = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/skills/{skill_id}", { params })),
    onSuccess: () => {
      void renewed();
      say(t`${skill.name} is gone. Its questions stay; what stood below it moved up.`);
    },
  });
  const merge = useMutation({
    mutationFn: () => read(api.POST("/api/v1/skills/{skill_id}/merge", { params, body: { skill: Number(into) } })),
    onSuccess: (one) => {
      void renewed();
      say(t`${skill.name} is part of ${one.name} now.`);
    },
  });
  const beside = childrenOf(skills, skill.parent ?? null);
  const at = beside.findIndex((other) => other.id === skill.id);
  const move = useMutation({
    mutationFn: (to: number) => {
      const ids = beside.map((other) => other.id);
      ids.splice(at, 1);
      ids.splice(to, 0, skill.id);
      return read(api.PUT("/api/v1/skills/order", { body: { ids } }));
    },
    onSuccess: () => client.invalidateQueries({ queryKey: ["skills"] }),
  });
  const others = skills.filter((other) => other.id !== skill.id);
  const questions = plural(skill.questions, { one: "# question", other: "# questions" });
  return (
    <li className="border-b border-hairline py-1.5" style={{ paddingInlineStart: `${depth * 1.5}rem` }}>
      <div className="flex flex-wrap items-center gap-2">
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
          className="min-w-0 flex-1 basis-60 py-0.5!"
          maxLength={120}
          defaultValue={skill.name}
          onBlur={(event) => event.target.value !== skill.name && keep.mutate({ name: event.target.value })}
        />
        <Link
          to={`/bank?skill=${encodeURIComponent(skill.name)}`}
          className="w-26 text-sm text-graphite hover:underline"
        >
          {questions}
        </Link>
        <CompactSelect
          name={t`Skill above ${skill.name}`}
          value={`${skill.parent ?? ""}`}
          of={{ "": t`at the top`, ...Object.fromEntries(others.map((one) => [`${one.id}`, t`below ${one.name}`])) }}
          onChange={(parent) => keep.mutate({ parent: parent ? Number(parent) : null })}
        />
        <Button
          aria-label={t`${skill.name}: up`}
          disabled={at === 0 || move.isPending}
          onClick={() => move.mutate(at - 1)}
        >
          ↑
        </Button>
        <Button
          aria-label={t`${skill.name}: down`}
          disabled={at === beside.length - 1 || move.isPending}
          onClick={() => move.mutate(at + 1)}
        >
          ↓
        </Button>
        <Button disabled={others.length === 0} onClick={() => setAsks("merge")} aria-label={t`Merge ${skill.name}…`}>
          {t`Merge…`}
        </Button>
        <Button variant="quiet" onClick={() => setAsks("remove")} aria-label={t`Take out ${skill.name}`}>
          {t`Take out`}
        </Button>
      </div>
      <Problem error={keep.error ?? remove.error ?? merge.error ?? move.error} />
      <Dialog
        open={asks === "remove"}
        onClose={() => setAsks(null)}
        title={t`Take out ${skill.name}?`}
        says={
          skill.questions === 0
            ? t`No question tests it. What stands below it moves up.`
            : plural(skill.questions, {
                one: "# question stays in the bank and does not test it any more; what stands below it moves up.",
                other: "# questions stay in the bank and do not test it any more; what stands below it moves up.",
              })
        }
      >
        <Button
          variant="main"
          onClick={() => {
            setAsks(null);
            remove.mutate();
          }}
        >{t`Take it out`}</Button>
      </Dialog>
      <Dialog
        open={asks === "merge"}
        onClose={() => setAsks(null)}
        title={t`Merge ${skill.name} into another skill`}
        says={t`Its questions (${skill.questions}), its materials and what stands below it become the other’s. Plans of tests follow; what was sat keeps the name it had. This cannot be undone.`}
      >
        <CompactSelect
          name={t`The other skill`}
          value={into}
          of={{ "": t`choose…`, ...Object.fromEntries(others.map((one) => [`${one.id}`, one.name])) }}
          onChange={setInto}
        />
        <Button
          variant="main"
          disabled={!into}
          onClick={() => {
            setAsks(null);
            merge.mutate();
          }}
        >{t`Merge them`}</Button>
      </Dialog>
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
