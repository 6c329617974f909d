import { t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Field, Problem, TextInput } from "../ui/field";
import { WayIn } from "./way-in";

const FIELDS = [
  { name: "school", label: t`School`, complete: "organization", hint: undefined },
  { name: "name", label: t`Your name, as students see it`, complete: "name", hint: undefined },
  {
    name: "username",
    label: t`Name you sign in with`,
    complete: "username",
    hint: t`Letters and digits, no spaces.`,
  },
  { name: "password", label: t`Password`, complete: "new-password", hint: t`8 characters or more.` },
  {
    name: "code",
    label: t`Code`,
    complete: "off",
    hint: t`It stands where the service was started, below its address. It is asked for once.`,
  },
] as const;

/** The first page of an empty school. */
export function FirstAccount() {
  const [form, setForm] = useState({ school: "", name: "", username: "", password: "", code: "" });
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => read(api.POST("/api/v1/first-account", { body: form })),
    onSuccess: (me) => client.setQueryData(["me"], me),
  });
  return (
    <WayIn
      title={t`An empty school, ready for its first teacher.`}
      says={t`Make your account. Everything you enter stays on this machine.`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        {FIELDS.map(({ name, label, complete, hint }) => (
          <Field key={name} label={label} hint={hint}>
            {(id) => (
              <TextInput
                id={id}
                type={name === "password" ? "password" : "text"}
                autoComplete={complete}
                required
                value={form[name]}
                onChange={(event) => setForm({ ...form, [name]: event.target.value })}
              />
            )}
          </Field>
        ))}
        <Problem error={make.error} />
        <Button type="submit" variant="main" disabled={make.isPending}>{t`Make the account`}</Button>
      </form>
    </WayIn>
  );
}
