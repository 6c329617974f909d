import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../../api/changes";
import { api, read, type Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Field, Problem, TextInput } from "../../ui/field";
import { Chip, Region } from "../../ui/split-page";
import { useSay } from "../../ui/undo";
import { namesOf } from "../names-of";

/** Whom a group is made of: those who gave an answer to a question (null: none), or else who hold an idea. */
type Wanted = Pick<Schemas["GroupWanted"], "ref" | "answer" | "idea">;
type Props = {
  name: string;
  sittingId: number;
  wanted: Wanted;
  /** What a group of them is called, until it is called otherwise. */
  groupName: string;
  seats: number[];
  students: Schemas["FindingsStudent"][];
};

/** Who gave one answer: by name, to copy, or to put together as a group of the class. */
export function Chosen({ name, sittingId, wanted, groupName, seats, students }: Props) {
  const [grouping, setGrouping] = useState(false);
  const say = useSay();
  // In the order of the seats: of an idea the surest stand first.
  const names = namesOf(students, seats);
  const copy = async () => {
    await navigator.clipboard.writeText(names.join("\n"));
    say(t`${plural(names.length, { one: "# name", other: "# names" })} copied.`);
  };
  return (
    <Region
      name={`${name}: ${names.length}`}
      remark={
        names.length > 0 && (
          <span className="flex gap-4" data-screen-only>
            <Button variant="quiet" onClick={copy}>{t`copy the names`}</Button>
            <Button
              variant="quiet"
              aria-expanded={grouping}
              onClick={() => setGrouping(!grouping)}
            >{t`make a group`}</Button>
          </span>
        )
      }
    >
      {grouping && (
        <GroupForm sittingId={sittingId} wanted={wanted} groupName={groupName} onDone={() => setGrouping(false)} />
      )}
      <div className="flex flex-wrap gap-1.5 pt-2">
        {names.length === 0 && <p className="text-graphite">{t`Nobody.`}</p>}
        {names.map((student) => (
          <Chip key={student}>{student}</Chip>
        ))}
      </div>
    </Region>
  );
}

function GroupForm({
  sittingId,
  wanted,
  groupName,
  onDone,
}: Pick<Props, "sittingId" | "wanted" | "groupName"> & { onDone: () => void }) {
  const [name, setName] = useState(groupName.slice(0, 60));
  const client = useQueryClient();
  const say = useSay();
  const make = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/findings/groups", {
          params: { path: { sitting_id: sittingId } },
          body: { ...wanted, name },
        }),
      ),
    onSuccess: (made) => {
      void changed(client, "classes");
      say(
        t`“${made.name}” is a group of ${made.class_name} now: ${plural(made.students, { one: "# student", other: "# students" })}.`,
      );
      onDone();
    },
  });
  return (
    <form
      className="pt-2"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <Field label={t`Name of the group`}>
        {(id) => (
          <TextInput id={id} required maxLength={60} value={name} onChange={(event) => setName(event.target.value)} />
        )}
      </Field>
      <Problem error={make.error} />
      <Button type="submit" variant="main" disabled={make.isPending}>{t`Make the group`}</Button>
    </form>
  );
}
