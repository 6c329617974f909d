import { t } from "@lingui/core/macro";
import { useMutation } from "@tanstack/react-query";
import { useId, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Problem, TextInput } from "../ui/field";

type Props = { page: Schemas["MarksPage"]; onAdded: (page: Schemas["MarksPage"]) => void };

/** A row more: someone who joined the class since, or a new name, which goes on the class list too. */
export function AddStudent({ page, onAdded }: Props) {
  const [typed, setTyped] = useState("");
  const id = useId();
  const known = page.not_seated.find((one) => one.name.toLowerCase() === typed.trim().toLowerCase());
  const add = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/marks/students", {
          params: { path: { sitting_id: page.sitting.id } },
          body: known ? { student: known.student, name: "" } : { student: null, name: typed.trim() },
        }),
      ),
    onSuccess: (fresh) => {
      setTyped("");
      onAdded(fresh);
    },
  });
  return (
    <form
      className="mt-3 flex flex-wrap items-center gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (typed.trim()) add.mutate();
      }}
    >
      <label htmlFor={id} className="text-sm font-semibold">{t`Add a student`}</label>
      <TextInput
        id={id}
        list={`${id}-known`}
        className="w-64!"
        maxLength={120}
        placeholder={t`name`}
        autoComplete="off"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <datalist id={`${id}-known`}>
        {page.not_seated.map((one) => (
          <option key={one.student} value={one.name} />
        ))}
      </datalist>
      <Button type="submit" disabled={!typed.trim() || add.isPending}>
        {known || !typed.trim() ? t`Add a row` : t`Add a row, and to ${page.sitting.class_name}`}
      </Button>
      <Problem error={add.error} />
    </form>
  );
}
