import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Field, Problem, TextInput } from "../ui/field";
import { ScrollBox } from "../ui/scroll-box";
import { dayOf } from "../ui/words";

type Found = Schemas["FoundStudent"];

/** Students found by name, class, teacher or tag, put on a list of their own; they stay in their classes. */
export function AcrossClasses({ onDone }: { onDone: (classId: number) => void }) {
  const [words, setWords] = useState("");
  const [chosen, setChosen] = useState<Found[]>([]);
  const [name, setName] = useState(t`Together, ${dayOf(new Date())}`);
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["students", words],
    enabled: words.trim() !== "",
    queryFn: () => read(api.GET("/api/v1/students", { params: { query: { words } } })),
    placeholderData: (before) => before,
  });
  const make = useMutation({
    mutationFn: () =>
      read(api.POST("/api/v1/classes/of-students", { body: { name, students: chosen.map((one) => one.id) } })),
    onSuccess: (made) => {
      void changed(client, "classes");
      client.setQueryData(["class", made.id], made);
      onDone(made.id);
    },
  });
  const here = (one: Found) => chosen.some((other) => other.id === one.id);
  const offered = words.trim() ? (found.data?.students.filter((student) => !here(student)) ?? []) : [];
  const more = words.trim() ? (found.data?.more ?? 0) : 0;
  return (
    <div className="mb-4 border-s-2 border-iris ps-4">
      <Field label={t`Find students`} hint={t`By name, class, year, teacher or tag: “8 wren”, “Brandt”, “choir”.`}>
        {(id) => <TextInput id={id} value={words} onChange={(event) => setWords(event.target.value)} />}
      </Field>
      {(offered.length > 0 || chosen.length > 0) && (
        <ScrollBox label={t`Students to choose`}>
          {[...chosen, ...offered].map((one) => (
            <Checkbox
              key={`${one.id} ${one.class_id}`}
              label={`${one.name}, ${one.class_name}, ${one.teacher}`}
              checked={here(one)}
              onChange={(on) => setChosen(on ? [...chosen, one] : chosen.filter((other) => other.id !== one.id))}
            />
          ))}
          {more > 0 && <p className="text-sm text-graphite">{t`and ${more} more: type another word`}</p>}
        </ScrollBox>
      )}
      {words.trim() && found.data?.students.length === 0 && (
        <p className="mb-3 text-graphite">{t`Nobody is found so.`}</p>
      )}
      {chosen.length > 0 && (
        <div className="flex flex-wrap items-end gap-x-4">
          <Field label={t`The list is called`}>
            {(id) => (
              <TextInput id={id} maxLength={60} value={name} onChange={(event) => setName(event.target.value)} />
            )}
          </Field>
          <p className="mb-4">
            <Button
              disabled={make.isPending}
              onClick={() => make.mutate()}
            >{t`Put ${plural(chosen.length, { one: "# student", other: "# students" })} on it`}</Button>
          </p>
        </div>
      )}
      <Problem error={make.error} />
    </div>
  );
}
