import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { Page, Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { whenOf } from "../ui/words";
import { Passkeys } from "./passkeys";

/** One's own account: password, second factor, where one is signed in. */
export function AccountPage() {
  const me = useQuery({ queryKey: ["me"], queryFn: () => read(api.GET("/api/v1/me")) });
  if (!me.data) return null;
  return (
    <Page
      title={t`Your account`}
      facts={`${me.data.name} · ${me.data.school}`}
      actions={me.data.is_admin && <ButtonLink to="/people">{t`People of the school`}</ButtonLink>}
    >
      <div className="min-h-0 flex-1 px-6 py-4 lg:overflow-y-auto">
        <div className="grid max-w-5xl gap-x-12 lg:grid-cols-2">
          <div>
            <Password />
            <SecondFactor on={me.data.has_second_factor} />
            <Passkeys />
          </div>
          <SignIns />
        </div>
      </div>
    </Page>
  );
}

function Password() {
  const [form, setForm] = useState({ now: "", new: "" });
  const say = useSay();
  const change = useMutation({
    mutationFn: () => read(api.PUT("/api/v1/me/password", { body: form })),
    onSuccess: () => {
      setForm({ now: "", new: "" });
      say(t`The password is changed, and your other sign-ins are ended.`);
    },
  });
  return (
    <Region name={t`Password`}>
      <form
        className="py-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <Field label={t`Password now`}>
          {(id) => (
            <TextInput
              id={id}
              type="password"
              required
              autoComplete="current-password"
              value={form.now}
              onChange={(event) => setForm({ ...form, now: event.target.value })}
            />
          )}
        </Field>
        <Field label={t`New password`} hint={t`8 characters or more. You stay signed in here, and nowhere else.`}>
          {(id) => (
            <TextInput
              id={id}
              type="password"
              required
              autoComplete="new-password"
              value={form.new}
              onChange={(event) => setForm({ ...form, new: event.target.value })}
            />
          )}
        </Field>
        <Problem error={change.error} />
        <Button type="submit" disabled={change.isPending}>{t`Change the password`}</Button>
      </form>
    </Region>
  );
}

function SignIns() {
  const client = useQueryClient();
  const key = ["sign-ins"];
  const list = useQuery({ queryKey: key, queryFn: () => read(api.GET("/api/v1/me/sign-ins")) });
  const keep = { onSuccess: (next: Schemas["SignInLine"][]) => answered(client, key, next) };
  const end = useMutation({
    mutationFn: (entry_id: number) =>
      read(api.DELETE("/api/v1/me/sign-ins/{entry_id}", { params: { path: { entry_id } } })),
    ...keep,
  });
  const endOthers = useMutation({ mutationFn: () => read(api.DELETE("/api/v1/me/sign-ins")), ...keep });
  const entries = list.data ?? [];
  return (
    <Region name={t`Where you are signed in`}>
      <Problem error={list.error ?? end.error ?? endOthers.error} />
      <div className="relative overflow-x-auto">
        <Table
          caption={t`Where you are signed in`}
          heads={[
            { label: t`Device` },
            { label: t`Since`, right: true },
            { label: t`Last seen`, right: true },
            { label: t`End`, silent: true },
          ]}
        >
          {entries.map((entry) => (
            <Row key={entry.id} selected={entry.is_this}>
              <Cell>
                {entry.device || t`a browser`}
                {entry.is_this && <strong>{t` · this one`}</strong>}
                {entry.is_shared && <span className="text-graphite">{t` · shared device`}</span>}
              </Cell>
              <Cell right>{whenOf(entry.began_at)}</Cell>
              <Cell right>{whenOf(entry.seen_at)}</Cell>
              <Cell right>
                {!entry.is_this && (
                  <Button
                    variant="quiet"
                    aria-label={t`End the sign-in on ${entry.device}`}
                    onClick={() => end.mutate(entry.id)}
                  >{t`end`}</Button>
                )}
              </Cell>
            </Row>
          ))}
        </Table>
      </div>
      <p className="py-2 text-sm text-graphite">
        {t`A sign-in ends after 7 days without use and after 30 days in any case; on a shared device after half an hour without use.`}
      </p>
      {entries.length > 1 && (
        <Button disabled={endOthers.isPending} onClick={() => endOthers.mutate()}>{t`End all the others`}</Button>
      )}
    </Region>
  );
}

function SecondFactor({ on }: { on: boolean }) {
  const [asking, setAsking] = useState<"on" | "off">();
  return (
    <Region name={t`Second factor`}>
      <p className="py-2 text-sm text-graphite">
        {on
          ? t`On: after the password six figures of your authenticator are asked for.`
          : t`Off. With an authenticator on your phone, a password that somebody else knows is not enough to get in.`}
      </p>
      <Button onClick={() => setAsking(on ? "off" : "on")}>{on ? t`Turn off…` : t`Turn on…`}</Button>
      {asking === "on" && <TurnOn onClose={() => setAsking(undefined)} />}
      {asking === "off" && <TurnOff onClose={() => setAsking(undefined)} />}
    </Region>
  );
}

function TurnOn({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const [figures, setFigures] = useState("");
  const offer = useQuery({
    queryKey: ["second-factor"],
    queryFn: () => read(api.GET("/api/v1/me/second-factor")),
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 0,
  });
  const turnOn = useMutation({
    mutationFn: (secret: string) => read(api.PUT("/api/v1/me/second-factor", { body: { secret, figures } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["me"] }),
  });
  if (turnOn.data)
    return (
      <Dialog
        open
        onClose={onClose}
        title={t`The second factor is on`}
        says={t`Write these spare codes down now: they are not shown again. Each lets you in once, when the phone is not at hand.`}
      >
        <ul className="mb-4 grid grid-cols-2 gap-x-6 font-mono">
          {turnOn.data.codes.map((code) => (
            <li key={code}>{code}</li>
          ))}
        </ul>
        <Button variant="main" onClick={onClose}>{t`I have them`}</Button>
      </Dialog>
    );
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Turn the second factor on`}
      says={t`Scan the picture with an authenticator, or type the letters into it. Then type the six figures that it shows.`}
    >
      <Problem error={offer.error ?? turnOn.error} />
      {offer.data && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            turnOn.mutate(offer.data.secret);
          }}
        >
          <div className="mb-4 flex flex-wrap items-center gap-5">
            <img
              className="size-44"
              alt={t`Code for an authenticator`}
              src={`data:image/svg+xml;utf8,${encodeURIComponent(offer.data.picture.replace("<svg", '<svg xmlns="http://www.w3.org/2000/svg"'))}`}
            />
            <span className="font-mono break-all">{offer.data.secret.replace(/(.{4})/g, "$1 ")}</span>
          </div>
          <Field label={t`The six figures`}>
            {(id) => (
              <TextInput
                id={id}
                required
                inputMode="numeric"
                autoComplete="one-time-code"
                className="w-32!"
                value={figures}
                onChange={(event) => setFigures(event.target.value)}
              />
            )}
          </Field>
          <Button type="submit" variant="main" disabled={turnOn.isPending}>{t`Turn on`}</Button>
        </form>
      )}
    </Dialog>
  );
}

function TurnOff({ onClose }: { onClose: () => void }): ReactNode {
  const client = useQueryClient();
  const [password, setPassword] = useState("");
  const turnOff = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/me/second-factor", { body: { password } })),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["me"] });
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title={t`Turn the second factor off`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          turnOff.mutate();
        }}
      >
        <Field label={t`Your password`}>
          {(id) => (
            <TextInput
              id={id}
              type="password"
              required
              autoComplete="current-password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
            />
          )}
        </Field>
        <Problem error={turnOff.error} />
        <Button type="submit" variant="main" disabled={turnOff.isPending}>
          <Trans>Turn off</Trans>
        </Button>
      </form>
    </Dialog>
  );
}
