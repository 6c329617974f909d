import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { Region } from "../ui/split-page";

type Page = Schemas["ClassPage"];

/** Colleagues who share the class, and what each may do. */
export function Colleagues({ page }: { page: Page }) {
  const [adding, setAdding] = useState(false);
  const client = useQueryClient();
  const path = { class_id: page.id };
  const known = useQuery({ queryKey: ["colleagues"], queryFn: () => read(api.GET("/api/v1/colleagues")) });
  const kept = { onSuccess: (next: Page) => client.setQueryData(["class", page.id], next) };
  const share = useMutation({
    mutationFn: (body: Schemas["ClassSharing"]) =>
      read(api.PUT("/api/v1/classes/{class_id}/co-teachers", { params: { path }, body })),
    ...kept,
  });
  const stop = useMutation({
    mutationFn: (teacher: number) =>
      read(
        api.DELETE("/api/v1/classes/{class_id}/co-teachers/{teacher_id}", {
          params: { path: { ...path, teacher_id: teacher } },
        }),
      ),
    ...kept,
  });
  const free = known.data?.filter((one) => !page.co_teachers.some((shared) => shared.teacher === one.id)) ?? [];
  return (
    <Region name={t`Colleagues`}>
      <ul>
        {page.co_teachers.map((shared) => (
          <li key={shared.teacher} className="flex flex-wrap items-center gap-x-4 border-b border-hairline py-1.5">
            <span className="min-w-32 flex-1 font-serif">{shared.name}</span>
            <span className="text-sm text-graphite">{t`may see`}</span>
            <Checkbox
              label={t`may mark`}
              checked={shared.may_mark}
              onChange={(may_mark) => share.mutate({ ...shared, may_mark })}
            />
            <Checkbox
              label={t`may run sittings`}
              checked={shared.may_run}
              onChange={(may_run) => share.mutate({ ...shared, may_run })}
            />
            <Button
              variant="quiet"
              onClick={() => stop.mutate(shared.teacher)}
              aria-label={t`Stop sharing with ${shared.name}`}
            >{t`stop`}</Button>
          </li>
        ))}
      </ul>
      <Problem error={share.error ?? stop.error ?? known.error} />
      <div className="flex flex-wrap items-center gap-3 py-2">
        {free.length > 0 && (
          <Choice
            aria-label={t`Share the class with`}
            className="w-auto!"
            value=""
            onChange={(event) =>
              event.target.value &&
              share.mutate({ teacher: Number(event.target.value), may_mark: false, may_run: false })
            }
          >
            <option value="">{t`share the class with…`}</option>
            {free.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </Choice>
        )}
        <Button variant="quiet" onClick={() => setAdding(!adding)}>{t`add a colleague to the school`}</Button>
      </div>
      {adding && <NewColleague />}
    </Region>
  );
}

function NewColleague() {
  const [name, setName] = useState("");
  const [username, setUsername] = useState("");
  const client = useQueryClient();
  const add = useMutation({
    mutationFn: () => read(api.POST("/api/v1/colleagues", { body: { name, username } })),
    onSuccess: () => changed(client, "classes"),
  });
  if (add.data)
    return (
      <p className="border-s-2 border-teal bg-teal-wash px-3 py-2">
        <Trans>
          {add.data.name} signs in as <strong>{add.data.username}</strong> with <strong>{add.data.password}</strong>.
          Tell them now: it is not shown again.
        </Trans>
      </p>
    );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      <div className="grid gap-x-4 sm:grid-cols-2">
        <Field label={t`Their name`}>
          {(id) => (
            <TextInput id={id} required maxLength={80} value={name} onChange={(event) => setName(event.target.value)} />
          )}
        </Field>
        <Field label={t`Name they sign in with`}>
          {(id) => (
            <TextInput
              id={id}
              required
              minLength={2}
              maxLength={60}
              value={username}
              onChange={(event) => setUsername(event.target.value)}
            />
          )}
        </Field>
      </div>
      <Problem error={add.error} />
      <Button type="submit">{t`Make the account`}</Button>
    </form>
  );
}
