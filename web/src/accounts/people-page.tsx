import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { Menu } from "../ui/menu";
import { Page, Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { whenOf } from "../ui/words";
import { Departments } from "./departments";

type Person = Schemas["PersonLine"];
type Role = Person["role"];
const KEY = ["people"];

/** The accounts of the school, for an administrator. */
export function PeoplePage() {
  const [inviting, setInviting] = useState(false);
  const [given, setGiven] = useState<Schemas["PersonWithCode"]>();
  const list = useQuery({ queryKey: KEY, queryFn: () => read(api.GET("/api/v1/people")) });
  if (!list.data)
    return (
      <Page title={t`People of the school`}>
        <div className="px-6 py-4">
          <Problem error={list.error} />
        </div>
      </Page>
    );
  const active = list.data.filter((person) => person.is_active);
  const gone = list.data.filter((person) => !person.is_active);
  return (
    <Page
      title={t`People of the school`}
      facts={t`An administrator looks after accounts. Who sees which class, teachers decide among themselves.`}
      actions={
        <>
          <ButtonLink to="/people/privacy">{t`What is kept of students`}</ButtonLink>
          <ButtonLink to="/people/log">{t`Security log`}</ButtonLink>
          <Button variant="main" onClick={() => setInviting(true)}>{t`Invite somebody…`}</Button>
        </>
      }
    >
      <div className="min-h-0 flex-1 px-6 py-4 lg:overflow-y-auto">
        <People name={t`Accounts`} people={active} everybody={active} onCode={setGiven} />
        <Departments everybody={active} />
        {gone.length > 0 && <People name={t`Deactivated`} people={gone} everybody={active} onCode={setGiven} />}
      </div>
      {inviting && (
        <Invite
          onClose={() => setInviting(false)}
          onInvited={(made) => {
            setInviting(false);
            setGiven(made);
          }}
        />
      )}
      {given && <CodeOnce given={given} onClose={() => setGiven(undefined)} />}
    </Page>
  );
}

type PeopleProps = {
  name: string;
  people: Person[];
  /** Who may be given somebody's work. */
  everybody: Person[];
  onCode: (given: Schemas["PersonWithCode"]) => void;
};

function People({ name, people, everybody, onCode }: PeopleProps) {
  const client = useQueryClient();
  const say = useSay();
  const [leaving, setLeaving] = useState<Person>();
  const again = () => client.invalidateQueries({ queryKey: KEY });
  const code = useMutation({
    mutationFn: (person_id: number) =>
      read(api.POST("/api/v1/people/{person_id}/code", { params: { path: { person_id } } })),
    onSuccess: (made) => {
      onCode(made);
      again();
    },
  });
  const role = useMutation({
    mutationFn: ({ person, role }: { person: Person; role: Role }) =>
      read(api.PUT("/api/v1/people/{person_id}/role", { params: { path: { person_id: person.id } }, body: { role } })),
    onSuccess: again,
  });
  const restore = useMutation({
    mutationFn: (person_id: number) =>
      read(api.POST("/api/v1/people/{person_id}/restore", { params: { path: { person_id } } })),
    onSuccess: (person) => {
      say(t`${person.name} can sign in again.`);
      again();
    },
  });
  const choices = (person: Person) =>
    person.is_active
      ? [
          {
            name: person.is_invited ? t`New code for the invitation` : t`Code to choose a new password`,
            onChoose: () => code.mutate(person.id),
          },
          person.role === "admin"
            ? { name: t`Administrator no more`, onChoose: () => role.mutate({ person, role: "teacher" }) }
            : { name: t`Make an administrator`, onChoose: () => role.mutate({ person, role: "admin" }) },
          { name: t`Deactivate…`, onChoose: () => setLeaving(person) },
        ]
      : [{ name: t`Restore`, onChoose: () => restore.mutate(person.id) }];
  return (
    <Region name={`${name}: ${people.length}`}>
      <Problem error={code.error ?? role.error ?? restore.error} />
      <div className="relative overflow-x-auto">
        <Table
          caption={name}
          heads={[
            { label: t`Name` },
            { label: t`Signs in as` },
            { label: t`Mail address` },
            { label: t`Role` },
            { label: t`Second factor` },
            { label: t`Last seen`, right: true },
            { label: t`What to do`, silent: true },
          ]}
        >
          {people.map((person) => (
            <Row key={person.id}>
              <Cell>
                <span className="font-serif text-base wrap-anywhere">{person.name}</span>
              </Cell>
              <Cell>
                <span className="wrap-anywhere">{person.username}</span>
              </Cell>
              <Cell>
                <span className="wrap-anywhere">{person.email || "–"}</span>
              </Cell>
              <Cell>{person.role === "admin" ? <strong>{t`administrator`}</strong> : t`teacher`}</Cell>
              <Cell>{person.has_second_factor ? t`on` : <span className="text-graphite">{t`off`}</span>}</Cell>
              <Cell right>
                {person.is_invited ? (
                  <span className="text-ochre">{t`◐ invited`}</span>
                ) : person.seen_at ? (
                  whenOf(person.seen_at)
                ) : (
                  <span className="text-graphite">–</span>
                )}
              </Cell>
              <Cell right>
                <Menu
                  trigger={<Button aria-label={t`What to do with the account of ${person.name}`}>{t`Do…`}</Button>}
                  choices={choices(person)}
                />
              </Cell>
            </Row>
          ))}
        </Table>
      </div>
      {leaving && <Deactivate person={leaving} everybody={everybody} onClose={() => setLeaving(undefined)} />}
    </Region>
  );
}

type InviteProps = { onClose: () => void; onInvited: (made: Schemas["PersonWithCode"]) => void };

function Invite({ onClose, onInvited }: InviteProps) {
  const client = useQueryClient();
  const [form, setForm] = useState({ name: "", username: "", email: "", role: "teacher" as Role });
  const invite = useMutation({
    mutationFn: () => read(api.POST("/api/v1/people", { body: form })),
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: KEY });
      client.invalidateQueries({ queryKey: ["colleagues"] });
      onInvited(made);
    },
  });
  const field = (name: "name" | "username" | "email", label: string, required: boolean, hint?: string) => (
    <Field label={label} hint={hint}>
      {(id) => (
        <TextInput
          id={id}
          required={required}
          type={name === "email" ? "email" : "text"}
          maxLength={name === "username" ? 60 : 80}
          autoComplete="off"
          autoCapitalize={name === "name" ? "words" : "none"}
          value={form[name]}
          onChange={(event) => setForm({ ...form, [name]: event.target.value })}
        />
      )}
    </Field>
  );
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Invite somebody`}
      says={t`They get a code, and choose their password with it. It works once, for a week.`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          invite.mutate();
        }}
      >
        {field("name", t`Their name, as students see it`, true)}
        {field("username", t`Name they sign in with`, true, t`Letters and digits, no spaces.`)}
        {field("email", t`Mail address`, false, t`The code goes there, where the school has a mail server.`)}
        <Field label={t`Role`}>
          {(id) => (
            <Choice
              id={id}
              value={form.role}
              onChange={(event) => setForm({ ...form, role: event.target.value as Role })}
            >
              <option value="teacher">{t`teacher`}</option>
              <option value="admin">{t`administrator`}</option>
            </Choice>
          )}
        </Field>
        <Problem error={invite.error} />
        <Button type="submit" variant="main" disabled={invite.isPending}>{t`Invite`}</Button>
      </form>
    </Dialog>
  );
}

function CodeOnce({ given, onClose }: { given: Schemas["PersonWithCode"]; onClose: () => void }) {
  const { person, code, mailed } = given;
  const where = `${location.origin}/with-code`;
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`The code for ${person.name}`}
      says={
        mailed
          ? t`It is on its way to ${person.email}. It is shown here once, in case it does not arrive.`
          : t`Give it to them yourself: it is shown here once and nowhere else.`
      }
    >
      <p className="mb-3 border-s-2 border-teal bg-teal-wash px-3 py-2 font-mono text-xl">{code}</p>
      <p className="mb-4">
        <Trans>
          They open <strong className="break-all">{where}</strong>, sign in as <strong>{person.username}</strong>, and
          choose a password.
        </Trans>
      </p>
      <Button variant="main" onClick={onClose}>{t`Done`}</Button>
    </Dialog>
  );
}

type DeactivateProps = { person: Person; everybody: Person[]; onClose: () => void };

function Deactivate({ person, everybody, onClose }: DeactivateProps) {
  const client = useQueryClient();
  const say = useSay();
  const [to, setTo] = useState("");
  const others = everybody.filter((other) => other.id !== person.id && !other.is_invited);
  const deactivate = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/people/{person_id}/deactivate", {
          params: { path: { person_id: person.id } },
          body: { hand_to: to ? Number(to) : null },
        }),
      ),
    onSuccess: () => {
      client.invalidateQueries();
      say(t`${person.name} cannot sign in any more.`);
      onClose();
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Deactivate the account of ${person.name}`}
      says={t`They are signed out everywhere at once. Marks and notes keep their name. The account can be restored.`}
    >
      <Field
        label={t`Their classes, tests, questions and sittings`}
        hint={
          to
            ? t`They become this colleague’s for good: restoring the account does not bring them back.`
            : t`They stay as they are, and nobody but colleagues who share a class sees them.`
        }
      >
        {(id) => (
          <Choice id={id} value={to} onChange={(event) => setTo(event.target.value)}>
            <option value="">{t`stay with the account`}</option>
            {others.map((other) => (
              <option key={other.id} value={other.id}>
                {t`go to ${other.name}`}
              </option>
            ))}
          </Choice>
        )}
      </Field>
      <Problem error={deactivate.error} />
      <Button
        variant="main"
        disabled={deactivate.isPending}
        onClick={() => deactivate.mutate()}
      >{t`Deactivate`}</Button>
    </Dialog>
  );
}
