import { useState } from "react";
import { api, read } from "../api/client";
import { Field, Problem, TextArea } from "../ui/field";
import { Fold } from "../ui/fold";

type Props = { sittingId: number; number: number; value: string; onSaid: (text: string) => void };

/** What a student is told about all of their work; kept when its marker leaves the field. */
export function Overall({ sittingId, number, value, onSaid }: Props) {
  const [text, setText] = useState(value);
  const [problem, setProblem] = useState<unknown>(null);
  const keep = () => {
    if (text === value) return;
    read(
      api.PUT("/api/sittings/{sitting_id}/marking/students/{number}/overall", {
        params: { path: { sitting_id: sittingId, number } },
        body: { text },
      }),
    ).then(() => {
      setProblem(null);
      onSaid(text);
    }, setProblem);
  };
  return (
    <div className="mt-4">
      <Fold name="About all of their work" remark={value} open={value !== ""}>
        <Field
          label="To their student, on the whole"
          hint="At the head of their result. Kept when you leave the field."
        >
          {(id) => (
            <TextArea
              id={id}
              rows={2}
              maxLength={4000}
              value={text}
              onChange={(event) => setText(event.target.value)}
              onBlur={keep}
            />
          )}
        </Field>
        <Problem error={problem} />
      </Fold>
    </div>
  );
}
