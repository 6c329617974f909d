import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { Choice, Field } from "../ui/field";

export const useClasses = (enabled = true) =>
  useQuery({ queryKey: ["classes"], queryFn: () => read(api.GET("/api/v1/classes")), enabled });

/** One of the teacher's classes; its id as text, empty while none is chosen. */
export function ClassChoice({ value, onChange }: { value: string; onChange: (id: string) => void }) {
  const classes = useClasses().data ?? [];
  return (
    <Field label={t`Class`}>
      {(id) => (
        <Choice id={id} required value={value} onChange={(event) => onChange(event.target.value)}>
          <option value="">{t`choose…`}</option>
          {classes.map((line) => (
            <option key={line.id} value={line.id}>
              {line.name} ({plural(line.students, { one: "# student", other: "# students" })})
            </option>
          ))}
        </Choice>
      )}
    </Field>
  );
}
