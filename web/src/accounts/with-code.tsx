import { t } from "@lingui/core/macro";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Field, Problem, TextInput } from "../ui/field";
import { WayIn } from "./way-in";

type Props = {
  /** Whether a code can be asked for by mail. */
  mails: boolean;
};

/** A first password, or a new one, with a code from an administrator or from a letter. */
export function WithCode({ mails }: Props) {
  const [form, setForm] = useState({ username: "", code: "", password: "" });
  const choose = useMutation({
    mutationFn: () => read(api.POST("/api/v1/with-code", { body: form })),
    onSuccess: () => location.assign("/"),
  });
  const ask = useMutation({
    mutationFn: () => read(api.POST("/api/v1/forgotten", { body: { username: form.username } })),
  });
  const field = (name: keyof typeof form, label: string, complete: string, hint?: string) => (
    <Field label={label} hint={hint}>
      {(id) => (
        <TextInput
          id={id}
          required
          autoCapitalize="none"
          autoComplete={complete}
          type={name === "password" ? "password" : "text"}
          value={form[name]}
          onChange={(event) => setForm({ ...form, [name]: event.target.value })}
        />
      )}
    </Field>
  );
  return (
    <WayIn title={t`Choose your password.`} says={t`With the code that you were given. It works once.`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          choose.mutate();
        }}
      >
        {field("username", t`Name you sign in with`, "username")}
        {field("code", t`Code`, "one-time-code", t`Sixteen letters and digits in four groups.`)}
        {field("password", t`New password`, "new-password", t`8 characters or more.`)}
        <Problem error={choose.error ?? ask.error} />
        <div className="flex flex-wrap items-center gap-4">
          <Button type="submit" variant="main" disabled={choose.isPending}>{t`Keep and sign in`}</Button>
          {mails && (
            <Button
              variant="quiet"
              disabled={ask.isPending || form.username.trim() === ""}
              onClick={() => ask.mutate()}
            >{t`send me a code by mail`}</Button>
          )}
        </div>
        {ask.isSuccess && (
          <p role="status" className="mt-3 text-sm text-graphite">
            {t`If there is an account of that name with a mail address, a code is on its way. It works for a day.`}
          </p>
        )}
      </form>
      <p className="mt-8 text-sm text-graphite">
        {mails
          ? t`No code and no mail address? An administrator of your school can make a code for you.`
          : t`No code? An administrator of your school can make one for you.`}{" "}
        <a className="underline underline-offset-2" href="/">{t`Back to signing in`}</a>
      </p>
    </WayIn>
  );
}
