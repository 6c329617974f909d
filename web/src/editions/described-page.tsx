import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { NO_PLAN } from "../api/plan";
import { useSkills } from "../bank/skill-picker";
import { ClassChoice, useClasses } from "../classes/class-choice";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextArea, TextInput } from "../ui/field";
import { undoKeys, useHistory } from "../ui/history";
import { KeptNote, useKeeping } from "../ui/keeping";
import { Page, Region } from "../ui/split-page";

type Group = Schemas["ExternalGroup"];
type Draft = { title: string; described: { groups: Group[]; half_marks: boolean } };

const blank = (): Group => ({ ref: newRef(), label: "", marks: null, about: "", skills: [], follow_up: "" });
const newRef = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(8)), (n) => n.toString(16).padStart(2, "0")).join("");
const isEmpty = (group: Group) =>
  !(group.label || group.marks || group.about || group.skills.length || group.follow_up);

/** A test given and marked elsewhere: a line for every mark that is entered. */
export function DescribedPage({ test }: { test: Schemas["TestPage"] }) {
  const { draft, set, undo, redo } = useHistory<Draft>(`verso.steps.described.${test.id}`, {
    title: test.title,
    described: test.described as Draft["described"],
  });
  const [checks, setChecks] = useState(test.checks);
  const [pasting, setPasting] = useState(false);
  const [giving, setGiving] = useState(false);
  const client = useQueryClient();
  const { groups, half_marks } = draft.described;
  const lines = groups.filter((group) => !isEmpty(group));
  const total = lines.reduce((sum, group) => sum + (group.marks ?? 0), 0);
  const save = async (body: Draft) => {
    const page = await read(
      api.PUT("/api/v1/tests/{test_id}/described", { params: { path: { test_id: test.id } }, body }),
    );
    setChecks(page.checks);
    void changed(client, "tests");
    return page;
  };
  const keeping = useKeeping(draft, save);
  const setGroups = (next: Group[]) => set((now) => ({ ...now, described: { ...now.described, groups: next } }));
  // A last empty line is always there to go on in; it is a line once something stands in it.
  const shown = [...groups, ...(groups.length === 0 || !isEmpty(groups.at(-1) as Group) ? [blank()] : [])];
  const put = (at: number, group: Group) => {
    const next = [...shown];
    next[at] = group;
    setGroups(next.filter((one, place) => !(isEmpty(one) && place === next.length - 1)));
  };
  const stops = checks.filter((check) => check.stops);
  return (
    <Page
      title={draft.title || t`Untitled test`}
      facts={t`marks only · ${plural(lines.length, { one: "# line", other: "# lines" })}, ${plural(total, { one: "# mark", other: "# marks" })}`}
      actions={
        <>
          <KeptNote keeping={keeping} />
          <Button onClick={() => setPasting(true)}>{t`Paste lines`}</Button>
          <Button
            variant="main"
            disabled={lines.length === 0}
            onClick={() => setGiving(true)}
          >{t`Enter marks for a class…`}</Button>
        </>
      }
    >
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the keys belong to the fields inside */}
      <div className="min-h-0 flex-1 px-6 py-4 lg:overflow-y-auto" onKeyDown={undoKeys(undo, redo)}>
        <div className="flex max-w-5xl flex-wrap items-end gap-x-8">
          <div className="w-full max-w-md">
            <Field label={t`Title`}>
              {(id) => (
                <TextInput
                  id={id}
                  maxLength={200}
                  value={draft.title}
                  onChange={(event) => set((now) => ({ ...now, title: event.target.value }))}
                />
              )}
            </Field>
          </div>
          <div className="mb-4">
            <Checkbox
              label={t`Half marks are given`}
              checked={half_marks}
              onChange={(on) => set((now) => ({ ...now, described: { ...now.described, half_marks: on } }))}
            />
          </div>
        </div>
        <Region
          name={t`What the marks are for`}
          remark={t`A line for each mark you enter: a question, a part of one, or several together.`}
        >
          <Lines groups={shown} halves={half_marks} onPut={put} onGroups={setGroups} />
        </Region>
        {lines.length > 0 && stops.length > 0 && (
          <Region name={t`Still to do`}>
            <ul className="py-2">
              {stops.map((check) => (
                <li key={check.says} className="text-clay">
                  ◆ {check.says}
                </li>
              ))}
            </ul>
          </Region>
        )}
        <MarksSoFar testId={test.id} />
      </div>
      {pasting && (
        <PasteLines
          onClose={() => setPasting(false)}
          onLines={(more) => setGroups([...lines, ...more.map((group) => ({ ...group, ref: newRef() }))])}
        />
      )}
      {giving && <EnterFor testId={test.id} save={() => save(draft)} onClose={() => setGiving(false)} />}
    </Page>
  );
}

type LinesProps = {
  groups: Group[];
  halves: boolean;
  onPut: (at: number, group: Group) => void;
  onGroups: (groups: Group[]) => void;
};

const HEADS = [t`Label`, t`Marks`, t`Skills`, t`What it asks`, t`To ask again`];

function Lines({ groups, halves, onPut, onGroups }: LinesProps) {
  const skills = useSkills().data ?? [];
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a place that scrolls must be reachable by keyboard
    <section aria-label={t`Lines`} tabIndex={0} className="overflow-x-auto px-0.5 pb-1">
      <div className="grid min-w-3xl items-start grid-cols-[6rem_5rem_minmax(8rem,1fr)_minmax(8rem,1.2fr)_minmax(8rem,1.2fr)_2rem] gap-x-2 gap-y-1.5 py-2">
        {HEADS.map((head) => (
          <span key={head} className="text-xs font-semibold text-graphite">
            {head}
          </span>
        ))}
        <span />
        {groups.map((group, at) => {
          const name = group.label || t`line ${at + 1}`;
          const field = (what: "label" | "about" | "follow_up", says: string, example: string) => (
            <TextArea
              rows={1}
              aria-label={`${says}, ${name}`}
              placeholder={at === 0 ? example : ""}
              maxLength={300}
              value={group[what]}
              onChange={(event) => onPut(at, { ...group, [what]: event.target.value })}
            />
          );
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: the empty last line becomes a line in its place
            <div key={at} className="contents">
              {field("label", t`Label`, "1–2a")}
              <TextInput
                aria-label={t`Marks, ${name}`}
                type="number"
                min={halves ? 0.5 : 1}
                max={100}
                step={halves ? 0.5 : 1}
                placeholder={at === 0 ? "6" : ""}
                value={group.marks ?? ""}
                onChange={(event) => onPut(at, { ...group, marks: event.target.valueAsNumber || null })}
              />
              <SkillsField
                name={name}
                example={at === 0 ? "Density; Units" : ""}
                skills={group.skills}
                onChange={(next) => onPut(at, { ...group, skills: next })}
              />
              {field("about", t`What it asks`, t`in a few words, if you like`)}
              {field("follow_up", t`To ask again`, t`a question like it, for who missed it`)}
              <Button
                variant="quiet"
                aria-label={t`Take out ${name}`}
                disabled={isEmpty(group)}
                onClick={() => onGroups(groups.filter((group, place) => place !== at && !isEmpty(group)))}
              >
                ×
              </Button>
            </div>
          );
        })}
      </div>
      <datalist id="skills-known">
        {skills.map((skill) => (
          <option key={skill.id} value={skill.name} />
        ))}
      </datalist>
    </section>
  );
}

/** Several skills in one field, with semicolons between, as in a list of a spreadsheet. */
function SkillsField({
  name,
  example,
  skills,
  onChange,
}: {
  name: string;
  example: string;
  skills: string[];
  onChange: (skills: string[]) => void;
}) {
  const joined = skills.join("; ");
  const [text, setText] = useState(joined);
  const [before, setBefore] = useState(joined);
  if (joined !== before) {
    // Changed from elsewhere, by undo or pasted lines, rather than by this field.
    setBefore(joined);
    if (read(text).join("; ") !== joined) setText(joined);
  }
  function read(typed: string): string[] {
    return [...new Set(typed.split(";").map((one) => one.trim().slice(0, 120)))].filter(Boolean).slice(0, 12);
  }
  return (
    <TextInput
      aria-label={t`Skills, ${name}`}
      placeholder={example}
      list="skills-known"
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        onChange(read(event.target.value));
      }}
    />
  );
}

function PasteLines({ onClose, onLines }: { onClose: () => void; onLines: (groups: Group[]) => void }) {
  const [text, setText] = useState("");
  const take = (groups: Group[]) => {
    onLines(groups);
    onClose();
  };
  const look = useMutation({
    mutationFn: () => read(api.POST("/api/v1/tests/marks-only/lines", { body: { text } })),
    onSuccess: (found) => {
      if (found.wrong.length === 0) take(found.groups);
    },
  });
  const { groups = [], wrong = [] } = look.data ?? {};
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Paste lines`}
      says={t`From a spreadsheet, in this order: label, marks, skills (semicolons between), what it asks, what to ask again. Only the first two are needed.`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          look.mutate();
        }}
      >
        <Field label={t`Lines`}>
          {(id) => (
            <TextArea id={id} autoFocus rows={8} value={text} onChange={(event) => setText(event.target.value)} />
          )}
        </Field>
        <Problem error={look.error} />
        {wrong.length > 0 && <Problem error={{ message: t`Some lines cannot be read.`, problems: wrong }} />}
        {wrong.length > 0 && groups.length > 0 && (
          <Button className="me-3" onClick={() => take(groups)}>{t`Take the ${groups.length} that can`}</Button>
        )}
        <Button type="submit" variant="main" disabled={!text.trim() || look.isPending}>{t`Add the lines`}</Button>
      </form>
    </Dialog>
  );
}

/** Which class, and when it sat the test; then the grid. */
function EnterFor({ testId, save, onClose }: { testId: number; save: () => Promise<unknown>; onClose: () => void }) {
  const [classId, setClassId] = useState("");
  const [when, setWhen] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const classes = useClasses();
  const go = useMutation({
    mutationFn: async () => {
      await save();
      const edition = await read(api.POST("/api/v1/tests/{test_id}/freeze", { params: { path: { test_id: testId } } }));
      return read(
        api.POST("/api/v1/sittings", {
          body: {
            ...NO_PLAN,
            edition: edition.id,
            class_id: Number(classId),
            planned_for: when ? new Date(`${when}T12:00`).toISOString() : null,
          },
        }),
      );
    },
    onSuccess: (made) => {
      void changed(client, "plan");
      navigate(`/sittings/${made.id}`);
    },
  });
  return (
    <Dialog open onClose={onClose} title={t`Enter marks for a class`}>
      {classes.data?.length === 0 ? (
        <p>
          {t`There is no class yet.`} <ButtonLink to="/classes?new=1" variant="main">{t`Make a class`}</ButtonLink>
        </p>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            go.mutate();
          }}
        >
          <ClassChoice value={classId} onChange={setClassId} />
          <Field label={t`Given on`} hint={t`Leave it empty for today.`}>
            {(id) => <TextInput id={id} type="date" value={when} onChange={(event) => setWhen(event.target.value)} />}
          </Field>
          <Problem error={go.error} />
          <Button type="submit" variant="main" disabled={go.isPending}>{t`To the grid`}</Button>
        </form>
      )}
    </Dialog>
  );
}

/** The classes whose marks of this test are here already, or on their way. */
function MarksSoFar({ testId }: { testId: number }) {
  const sittings = useQuery({ queryKey: ["sittings"], queryFn: () => read(api.GET("/api/v1/sittings")) });
  const own = sittings.data?.filter((sitting) => sitting.test === testId) ?? [];
  if (own.length === 0) return null;
  return (
    <Region name={t`Marks of this test`}>
      <ul className="py-2">
        {own.map((sitting) => (
          <li key={sitting.id} className="flex items-center gap-4 py-1">
            <span className="min-w-0 flex-1">
              <strong>{sitting.class_name}</strong>{" "}
              <span className="text-graphite">
                {sitting.closed_at ? t`all marks are in` : t`${sitting.handed_in} of ${sitting.seats} rows full`}
              </span>
            </span>
            <ButtonLink to={`/sittings/${sitting.id}`}>{t`Marks`}</ButtonLink>
          </li>
        ))}
      </ul>
    </Region>
  );
}
