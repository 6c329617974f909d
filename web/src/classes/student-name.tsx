import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Field, Problem, TextInput } from "../ui/field";
import { Region } from "../ui/spread";
import { useSay } from "../ui/undo";

type Props = { classId: number; student: Schemas["StudentLine"]; onDone: () => void };

/** One student: the name, a new pass, leaving the class. */
export function StudentName({ classId, student, onDone }: Props) {
  const [given, setGiven] = useState(student.given_name);
  const [family, setFamily] = useState(student.family_name);
  const client = useQueryClient();
  const say = useSay();
  const params = { path: { class_id: classId, student_id: student.id } };
  const refresh = () => client.invalidateQueries();
  const rename = useMutation({
    mutationFn: () =>
      read(
        api.PUT("/api/classes/{class_id}/students/{student_id}", {
          params,
          body: { given_name: given, family_name: family },
        }),
      ),
    onSuccess: () => {
      refresh();
      onDone();
    },
  });
  const newPass = useMutation({
    mutationFn: () => read(api.POST("/api/classes/{class_id}/students/{student_id}/new-pass", { params })),
    onSuccess: (changed) => {
      refresh();
      say(`${changed.short_name} signs in with ${changed.pass_phrase} from now on.`);
    },
  });
  const leave = useMutation({
    mutationFn: () => read(api.DELETE("/api/classes/{class_id}/students/{student_id}", { params })),
    onSuccess: () => {
      refresh();
      say(`${student.short_name} has left the class. Earlier answers stay.`);
      onDone();
    },
  });
  return (
    <Region name={`Desk ${student.desk}`} remark={student.pass_phrase}>
      <form
        className="pt-3"
        onSubmit={(event) => {
          event.preventDefault();
          rename.mutate();
        }}
      >
        <Field label="Given name">
          {(id) => <TextInput id={id} required value={given} onChange={(e) => setGiven(e.target.value)} />}
        </Field>
        <Field label="Family name">
          {(id) => <TextInput id={id} value={family} onChange={(e) => setFamily(e.target.value)} />}
        </Field>
        <Problem error={rename.error ?? newPass.error ?? leave.error} />
        <div className="flex flex-wrap gap-3">
          <Button type="submit" look="main">
            Keep the name
          </Button>
          <Button onClick={() => newPass.mutate()}>Give a new pass</Button>
          <Button onClick={() => leave.mutate()}>Leaves the class</Button>
        </div>
      </form>
    </Region>
  );
}
