import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Field, Problem, TextInput } from "../ui/field";
import { WayIn } from "./way-in";

const FIELDS = [
  { name: "school", label: "School", complete: "organization", hint: undefined },
  { name: "name", label: "Your name, as students see it", complete: "name", hint: undefined },
  {
    name: "username",
    label: "Name you sign in with",
    complete: "username",
    hint: "Letters and digits, no spaces.",
  },
  { name: "password", label: "Password", complete: "new-password", hint: "8 characters or more." },
  {
    name: "code",
    label: "Code",
    complete: "off",
    hint: "It stands where the service was started, below its address. It is asked for once.",
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
      title="An empty school, ready for its first teacher."
      says="Make your account. Everything you enter stays on this machine."
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
        <Button type="submit" variant="main" disabled={make.isPending}>
          Make the account
        </Button>
      </form>
    </WayIn>
  );
}
