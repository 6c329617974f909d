import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Field, Problem, TextInput } from "../ui/field";
import { Chip, Region } from "../ui/split-page";
import { useSay } from "../ui/undo";

type Page = Schemas["ClassPage"];
type Group = Schemas["GroupLine"];

/** Groups of the class: the teacher's own, and those that a finding made. */
export function Groups({ page }: { page: Page }) {
  const [open, setOpen] = useState<number | "new" | null>(null);
  return (
    <Region name={t`Groups`} remark={<Button variant="quiet" onClick={() => setOpen("new")}>{t`new group`}</Button>}>
      {open === "new" && <GroupForm page={page} onDone={() => setOpen(null)} />}
      {page.groups.length === 0 && open === null && (
        <p className="py-3 text-graphite">{t`No group yet. Put students together here, or from a finding: the ones who share an idea.`}</p>
      )}
      <ul>
        {page.groups.map((group) => (
          <li key={group.id} className="border-b border-hairline py-2">
            <div className="flex items-baseline gap-3">
              <span className="min-w-0 flex-1">
                <strong className="font-serif">{group.name}</strong>{" "}
                <span className="text-sm text-graphite">
                  {plural(group.students.length, { one: "# student", other: "# students" })}
                  {group.made_from && t`, made from: ${group.made_from}`}
                </span>
              </span>
              <Button variant="quiet" onClick={() => setOpen(open === group.id ? null : group.id)}>
                {open === group.id ? t`close` : t`change`}
              </Button>
            </div>
            {open === group.id ? (
              <GroupForm page={page} group={group} onDone={() => setOpen(null)} />
            ) : (
              <p className="flex flex-wrap gap-1 pt-1">
                {page.list
                  .filter((student) => group.students.includes(student.id))
                  .map((student) => (
                    <Chip key={student.id}>{student.short_name}</Chip>
                  ))}
              </p>
            )}
          </li>
        ))}
      </ul>
    </Region>
  );
}

function GroupForm({ page, group, onDone }: { page: Page; group?: Group; onDone: () => void }) {
  const [name, setName] = useState(group?.name ?? "");
  const [students, setStudents] = useState<number[]>(group?.students ?? []);
  const client = useQueryClient();
  const say = useSay();
  const path = { class_id: page.id };
  const kept = (next: Page) => {
    answered(client, ["class", page.id], next);
    onDone();
  };
  const keep = useMutation({
    mutationFn: () =>
      group
        ? read(
            api.PUT("/api/v1/classes/{class_id}/groups/{group_id}", {
              params: { path: { ...path, group_id: group.id } },
              body: { name, students, made_from: "" },
            }),
          )
        : read(
            api.POST("/api/v1/classes/{class_id}/groups", {
              params: { path },
              body: { name, students, made_from: "" },
            }),
          ),
    onSuccess: kept,
  });
  const remove = useMutation({
    mutationFn: (id: number) =>
      read(api.DELETE("/api/v1/classes/{class_id}/groups/{group_id}", { params: { path: { ...path, group_id: id } } })),
    onSuccess: (next) => {
      kept(next);
      const body = {
        name: group?.name ?? name,
        students: group?.students ?? students,
        made_from: group?.made_from ?? "",
      };
      say(t`The group ${body.name} is gone. Its students stay in the class.`, () =>
        read(api.POST("/api/v1/classes/{class_id}/groups", { params: { path }, body })).then((page) =>
          answered(client, ["class", page.id], page),
        ),
      );
    },
  });
  return (
    <form
      className="py-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <Field label={t`Name of the group`}>
        {(id) => (
          <TextInput id={id} required maxLength={60} value={name} onChange={(event) => setName(event.target.value)} />
        )}
      </Field>
      <div className="mb-3 columns-2 text-sm">
        {page.list.map((student) => (
          <label key={student.id} className="flex min-h-7 items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-[var(--ink)]"
              checked={students.includes(student.id)}
              onChange={(event) =>
                setStudents(
                  event.target.checked ? [...students, student.id] : students.filter((id) => id !== student.id),
                )
              }
            />
            {student.short_name}
          </label>
        ))}
      </div>
      <Problem error={keep.error ?? remove.error} />
      <div className="flex gap-3">
        <Button type="submit" variant="main">{t`Keep the group`}</Button>
        {group && <Button onClick={() => remove.mutate(group.id)}>{t`Take it away`}</Button>}
        <Button variant="quiet" onClick={onDone}>{t`leave it as it was`}</Button>
      </div>
    </form>
  );
}
