import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { ScrollBox } from "../ui/scroll-box";
import { Line, Region } from "../ui/split-page";
import { useSay } from "../ui/undo";

type Department = Schemas["DepartmentLine"];
type Person = Schemas["PersonLine"];
const KEY = ["school-departments"];

/** Who belongs to which department, for an administrator. */
export function Departments({ everybody }: { everybody: Person[] }) {
  const [open, setOpen] = useState<Department | "new">();
  const list = useQuery({ queryKey: KEY, queryFn: () => read(api.GET("/api/v1/departments")) });
  const departments = list.data ?? [];
  return (
    <Region
      name={t`Departments`}
      remark={<Button variant="quiet" onClick={() => setOpen("new")}>{t`New department…`}</Button>}
    >
      <Problem error={list.error} />
      {list.data && departments.length === 0 && (
        <p className="py-2 text-sm text-graphite">{t`None yet. Colleagues of one department can share questions; classes and marks stay with their teachers.`}</p>
      )}
      {departments.map((department) => (
        <Line
          key={department.id}
          action={
            <Button
              variant="quiet"
              aria-label={t`Change the department ${department.name}`}
              onClick={() => setOpen(department)}
            >{t`change`}</Button>
          }
        >
          <span className="font-serif text-base">{department.name}</span>
          <span className="ms-3 text-sm text-graphite">
            {department.members.map((person) => person.name).join(", ") || t`nobody yet`}
          </span>
        </Line>
      ))}
      {open && (
        <DepartmentDialog
          department={open === "new" ? undefined : open}
          everybody={everybody}
          onClose={() => setOpen(undefined)}
        />
      )}
    </Region>
  );
}

type Props = { department: Department | undefined; everybody: Person[]; onClose: () => void };

function DepartmentDialog({ department, everybody, onClose }: Props) {
  const client = useQueryClient();
  const say = useSay();
  const [name, setName] = useState(department?.name ?? "");
  const [members, setMembers] = useState(new Set(department?.members.map((person) => person.id)));
  const done = (next: Department[]) => {
    answered(client, KEY, next);
    void client.invalidateQueries({ queryKey: ["departments"] });
    onClose();
  };
  const keep = useMutation({
    mutationFn: () => {
      const body = { name, members: [...members] };
      return department
        ? read(
            api.PUT("/api/v1/departments/{department_id}", {
              params: { path: { department_id: department.id } },
              body,
            }),
          )
        : read(api.POST("/api/v1/departments", { body }));
    },
    onSuccess: done,
  });
  const remove = useMutation({
    mutationFn: (department_id: number) =>
      read(api.DELETE("/api/v1/departments/{department_id}", { params: { path: { department_id } } })),
    onSuccess: (next) => {
      say(t`The department is gone. Every question stays with its teacher.`);
      done(next);
    },
  });
  const toggle = (id: number, belongs: boolean) => {
    const next = new Set(members);
    if (belongs) next.add(id);
    else next.delete(id);
    setMembers(next);
  };
  return (
    <Dialog open onClose={onClose} title={department ? t`Change the department` : t`New department`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <Field label={t`Name of the department`}>
          {(id) => (
            <TextInput
              id={id}
              required
              autoFocus
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          )}
        </Field>
        <fieldset>
          <legend className="pb-1 text-sm font-semibold">
            {plural(members.size, { one: "Who belongs to it: # person", other: "Who belongs to it: # people" })}
          </legend>
          <ScrollBox label={t`Who belongs to it`}>
            {everybody.map((person) => (
              <div key={person.id} className="py-1">
                <Checkbox
                  label={person.name}
                  checked={members.has(person.id)}
                  onChange={(belongs) => toggle(person.id, belongs)}
                />
              </div>
            ))}
          </ScrollBox>
        </fieldset>
        <Problem error={keep.error ?? remove.error} />
        <div className="mt-4 flex flex-wrap justify-between gap-3">
          <Button type="submit" variant="main" disabled={keep.isPending}>{t`Keep`}</Button>
          {department && (
            <Button disabled={remove.isPending} onClick={() => remove.mutate(department.id)}>{t`Take it away`}</Button>
          )}
        </div>
      </form>
    </Dialog>
  );
}
