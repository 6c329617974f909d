import { t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refused, read, type Schemas } from "../api/client";
import { language } from "../language/locales";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Field, Problem, TextInput } from "../ui/field";
import { LanguageLine } from "../ui/language-line";
import { SignInWithPasskey } from "./passkeys";
import { WayIn } from "./way-in";

export function SignIn() {
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const [figures, setFigures] = useState("");
  const [shared, setShared] = useState(false);
  const client = useQueryClient();
  function welcome(me: Schemas["Me"]) {
    client.setQueryData(["me"], me);
    // Their language came with the answer; the words on this page are still another one's.
    if (me.language && me.language !== language()) location.reload();
  }
  const signIn = useMutation({
    mutationFn: () => read(api.POST("/api/v1/sign-in", { body: { username, password, figures, is_shared: shared } })),
    onSuccess: welcome,
  });
  const factorWanted = signIn.error instanceof Refused && signIn.error.code === "second_factor_wanted";
  return (
    <WayIn
      title={t`The other side of the paper.`}
      says={t`Give a test, and see which questions were misunderstood, by whom, and what to teach next.`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          signIn.mutate();
        }}
      >
        <Field label={t`Name you sign in with`}>
          {(id) => (
            <TextInput
              id={id}
              autoComplete="username"
              autoCapitalize="none"
              autoFocus
              required
              value={username}
              onChange={(e) => setUsername(e.target.value)}
            />
          )}
        </Field>
        <Field label={t`Password`}>
          {(id) => (
            <TextInput
              id={id}
              type="password"
              autoComplete="current-password"
              required
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          )}
        </Field>
        {factorWanted && (
          <Field label={t`Six figures of your authenticator`} hint={t`Or one of your spare codes.`}>
            {(id) => (
              <TextInput
                id={id}
                required
                autoFocus
                autoComplete="one-time-code"
                value={figures}
                onChange={(e) => setFigures(e.target.value)}
              />
            )}
          </Field>
        )}
        <div className="mb-3">
          <Checkbox label={t`others use this device too`} checked={shared} onChange={setShared} />
        </div>
        {/* That figures are wanted is no mistake yet. */}
        {!(factorWanted && figures === "") && <Problem error={signIn.error} />}
        <Button type="submit" variant="main" disabled={signIn.isPending}>{t`Sign in`}</Button>
      </form>
      <SignInWithPasskey shared={shared} onDone={welcome} />
      <p className="mt-4 text-sm">
        <a className="underline underline-offset-2" href="/with-code">{t`I have a code, or no password`}</a>
      </p>
      <LanguageLine languages={["en", "es"]} className="mt-8 text-sm text-graphite" />
    </WayIn>
  );
}
