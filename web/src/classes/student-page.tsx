import { t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { LANGUAGES } from "../language/locales";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Disclosure } from "../ui/disclosure";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { KeptNote, useKeeping } from "../ui/keeping";
import { NumberInput } from "../ui/number-input";
import { Region } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { WordPicker } from "../ui/word-picker";

type Student = Schemas["StudentLine"];
type Change = Schemas["StudentChange"];
type Props = { page: Schemas["ClassPage"]; student: Student; onDone: () => void };

/** One student: name, needs, tags, pass, and leaving, moving or becoming one with a double. */
export function StudentPage({ page, student, onDone }: Props) {
  const [draft, setDraft] = useState<Change>({
    given_name: student.given_name,
    family_name: student.family_name,
    number: student.number,
    email: student.email,
    guardian_email: student.guardian_email,
    tags: student.tags,
    extra_time: student.extra_time,
    large_print: student.large_print,
    quiet_start: student.quiet_start,
    break_minutes: student.break_minutes,
    alone_on_page: student.alone_on_page,
    large_targets: student.large_targets,
    ground: student.ground,
    read_aloud: student.read_aloud,
    language: student.language,
  });
  const client = useQueryClient();
  const say = useSay();
  const params = { path: { class_id: page.id, student_id: student.id } };
  const refresh = () => client.invalidateQueries();
  const keeping = useKeeping(draft, async (body) => {
    await read(api.PUT("/api/v1/classes/{class_id}/students/{student_id}", { params, body }));
    refresh();
  });
  const newPass = useMutation({
    mutationFn: () => read(api.POST("/api/v1/classes/{class_id}/students/{student_id}/new-pass", { params })),
    onSuccess: (changed) => {
      refresh();
      say(t`${changed.short_name} signs in with ${changed.pass_phrase} from now on.`);
    },
  });
  const leave = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/classes/{class_id}/students/{student_id}", { params })),
    onSuccess: () => {
      refresh();
      onDone();
      say(t`${student.short_name} has left the class. Earlier answers stay.`, async () => {
        await read(api.POST("/api/v1/classes/{class_id}/students/{student_id}/come-back", { params }));
        refresh();
      });
    },
  });
  const set = (part: Partial<Change>) => setDraft((now) => ({ ...now, ...part }));
  return (
    <Region
      name={t`Desk ${student.desk}`}
      remark={
        <span className="flex items-center gap-3">
          <KeptNote keeping={keeping} />
          <strong>{student.pass_phrase}</strong>
          <Button variant="quiet" onClick={onDone} aria-label={t`Close this student`}>{t`close`}</Button>
        </span>
      }
    >
      <div className="pt-3">
        <div className="grid gap-x-4 sm:grid-cols-2">
          <Field label={t`Given name`}>
            {(id) => (
              <TextInput
                id={id}
                maxLength={60}
                value={draft.given_name}
                onChange={(event) => set({ given_name: event.target.value })}
              />
            )}
          </Field>
          <Field label={t`Family name`}>
            {(id) => (
              <TextInput
                id={id}
                maxLength={60}
                value={draft.family_name}
                onChange={(event) => set({ family_name: event.target.value })}
              />
            )}
          </Field>
          <Field label={t`School number`}>
            {(id) => (
              <TextInput
                id={id}
                maxLength={40}
                value={draft.number}
                onChange={(event) => set({ number: event.target.value })}
              />
            )}
          </Field>
          <Field label={t`E-mail`} hint={t`Where notices and results may be sent.`}>
            {(id) => (
              <TextInput
                id={id}
                type="email"
                maxLength={254}
                value={draft.email}
                onChange={(event) => set({ email: event.target.value })}
              />
            )}
          </Field>
          <Field label={t`Guardian’s e-mail`} hint={t`Where reports for the parents go.`}>
            {(id) => (
              <TextInput
                id={id}
                type="email"
                maxLength={254}
                value={draft.guardian_email ?? ""}
                onChange={(event) => set({ guardian_email: event.target.value })}
              />
            )}
          </Field>
        </div>
        <Needs draft={draft} onChange={set} />
        <WordPicker
          label={t`Tags`}
          words={draft.tags}
          known={page.tags}
          onChange={(tags) => set({ tags })}
          hint={t`Words of your own that reports can compare: choir, new this year.`}
        />
        {student.other_classes.length > 0 && (
          <p className="mb-3 text-sm text-graphite">{t`Also in ${student.other_classes.join(", ")}.`}</p>
        )}
        <Problem error={newPass.error ?? leave.error} />
        <div className="mb-3 flex flex-wrap gap-3">
          <Button onClick={() => newPass.mutate()}>{t`Give a new pass`}</Button>
          <Button onClick={() => leave.mutate()}>{t`Leaves the class`}</Button>
        </div>
        <Elsewhere page={page} student={student} onDone={onDone} />
      </div>
    </Region>
  );
}

const GROUNDS: Record<Change["ground"], string> = {
  "": t`plain`,
  cream: t`cream`,
  blue: t`pale blue`,
  green: t`pale green`,
  rose: t`pale rose`,
};

/** What the student needs, wherever they are tested. */
function Needs({ draft, onChange }: { draft: Change; onChange: (part: Partial<Change>) => void }) {
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 text-sm font-semibold">{t`What they need in every test`}</legend>
      <div className="flex flex-wrap items-center gap-x-6 gap-y-1.5 text-sm">
        <span className="flex items-center gap-2">
          {t`extra time`}
          <NumberInput
            label={t`Extra time in percent`}
            className="w-18! py-0.5!"
            min={0}
            max={200}
            step={5}
            value={draft.extra_time || null}
            onChange={(extra) => onChange({ extra_time: extra ?? 0 })}
          />
          %
        </span>
        <span className="flex items-center gap-2">
          {t`breaks they may take`}
          <NumberInput
            label={t`Minutes of breaks in which their time stands still`}
            className="w-18! py-0.5!"
            min={0}
            max={120}
            step={5}
            value={draft.break_minutes || null}
            onChange={(minutes) => onChange({ break_minutes: minutes ?? 0 })}
          />
          {t`min`}
        </span>
        <Checkbox
          label={t`large print`}
          checked={draft.large_print}
          onChange={(large_print) => onChange({ large_print })}
        />
        <Checkbox
          label={t`a quiet start`}
          checked={draft.quiet_start}
          onChange={(quiet_start) => onChange({ quiet_start })}
        />
        <Checkbox
          label={t`one question a page`}
          checked={draft.alone_on_page}
          onChange={(alone_on_page) => onChange({ alone_on_page })}
        />
        <Checkbox
          label={t`large buttons`}
          checked={draft.large_targets}
          onChange={(large_targets) => onChange({ large_targets })}
        />
        <label className="flex items-center gap-2">
          {t`ground`}
          <Choice
            className="w-auto! py-0.5!"
            value={draft.ground}
            onChange={(event) => onChange({ ground: event.target.value as Change["ground"] })}
          >
            {Object.entries(GROUNDS).map(([ground, words]) => (
              <option key={ground} value={ground}>
                {words}
              </option>
            ))}
          </Choice>
        </label>
        <label className="flex items-center gap-2">
          {t`read aloud`}
          <Choice
            className="w-auto! py-0.5!"
            value={draft.read_aloud}
            onChange={(event) => onChange({ read_aloud: event.target.value as Change["read_aloud"] })}
          >
            <option value="">{t`as the test says`}</option>
            <option value="on">{t`on`}</option>
            <option value="off">{t`off`}</option>
          </Choice>
        </label>
        <label className="flex items-center gap-2">
          {t`language`}
          <Choice
            className="w-auto! py-0.5!"
            value={draft.language}
            onChange={(event) => onChange({ language: event.target.value as Change["language"] })}
          >
            <option value="">{t`the school’s`}</option>
            {Object.entries(LANGUAGES).map(([language, name]) => (
              <option key={language} value={language} lang={language}>
                {name}
              </option>
            ))}
          </Choice>
        </label>
      </div>
    </fieldset>
  );
}

/** To another class, or one with a student who is the same person. */
function Elsewhere({ page, student, onDone }: Props) {
  const client = useQueryClient();
  const say = useSay();
  const params = { path: { class_id: page.id, student_id: student.id } };
  const classes = useQuery({ queryKey: ["classes"], queryFn: () => read(api.GET("/api/v1/classes")) });
  const others = classes.data?.filter((line) => line.id !== page.id && !line.owner) ?? [];
  const move = useMutation({
    mutationFn: (to: number) =>
      read(api.POST("/api/v1/classes/{class_id}/students/{student_id}/move", { params: { ...params, query: { to } } })),
    onSuccess: (_, to) => {
      client.invalidateQueries();
      onDone();
      say(t`${student.short_name} is in ${others.find((line) => line.id === to)?.name ?? ""} now.`);
    },
  });
  const merge = useMutation({
    mutationFn: (other: number) =>
      read(
        api.POST("/api/v1/classes/{class_id}/students/{student_id}/merge", { params: { ...params, query: { other } } }),
      ),
    onSuccess: () => {
      client.invalidateQueries();
      say(t`They are one now: ${student.short_name}, with the results of both.`);
    },
  });
  return (
    <Disclosure name={t`Another class, or the same person twice`}>
      <div className="flex flex-wrap items-center gap-3 text-sm">
        <Choice
          aria-label={t`Move to another class`}
          className="w-auto!"
          value=""
          onChange={(event) => event.target.value && move.mutate(Number(event.target.value))}
        >
          <option value="">{t`moves to…`}</option>
          {others.map((line) => (
            <option key={line.id} value={line.id}>
              {line.name}
            </option>
          ))}
        </Choice>
        <Choice
          aria-label={t`The same person as`}
          className="w-auto! max-w-60"
          value=""
          onChange={(event) => event.target.value && merge.mutate(Number(event.target.value))}
        >
          <option value="">{t`is the same person as…`}</option>
          {page.list
            .filter((other) => other.id !== student.id)
            .map((other) => (
              <option key={other.id} value={other.id}>
                {other.desk} {other.full_name}
              </option>
            ))}
        </Choice>
      </div>
      <Problem error={move.error ?? merge.error} />
    </Disclosure>
  );
}
