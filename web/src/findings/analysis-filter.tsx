import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Disclosure } from "../ui/disclosure";
import { Choice, Field } from "../ui/field";
import { plain } from "../ui/rich";
import { begun } from "../ui/words";
import { SHARES, toggled, useScope } from "./use-analysis-filter";

type Props = { page: Schemas["FindingsPage"] };

/** Leave out a question or a student, change the groups, put sittings together: the figures follow, nothing is kept. */
export function ChangeAndSee({ page }: Props) {
  const [open, setOpen] = useState(false);
  const { scope, set, changed, back } = useScope();
  const { body, students, others } = page;
  return (
    <>
      <Button onClick={() => setOpen(true)}>{t`Change and see`}</Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        title={t`Change and see`}
        says={t`The figures follow at once. It is a way to look: no mark and no result changes.`}
      >
        <Field
          label={t`Upper and lower group`}
          hint={t`27% separates best where totals follow a bell; 50% halves the class.`}
        >
          {(id) => (
            <Choice
              id={id}
              className="w-auto!"
              value={scope.share}
              onChange={(event) => set({ ...scope, share: Number(event.target.value) as (typeof SHARES)[number] })}
            >
              {SHARES.map((share) => (
                <option key={share} value={share}>
                  {t`${share}% of the students`}
                </option>
              ))}
            </Choice>
          )}
        </Field>
        {others.length > 0 && (
          <Disclosure
            name={t`Together with other sittings of this edition`}
            remark={scope.also.length > 0 && plural(scope.also.length, { one: "# sitting", other: "# sittings" })}
            open={scope.also.length > 0}
          >
            {others.map((one) => (
              <Checkbox
                key={one.id}
                label={`${one.name} (${plural(one.students, { one: "# student", other: "# students" })})`}
                checked={scope.also.includes(one.id)}
                onChange={() => set({ ...scope, also: toggled(scope.also, one.id) })}
              />
            ))}
          </Disclosure>
        )}
        <Disclosure
          name={t`Without questions`}
          remark={scope.without.length > 0 && plural(scope.without.length, { one: "# question", other: "# questions" })}
          open={scope.without.length > 0}
        >
          {body?.paper
            .filter((line) => line.figures || line.left_out)
            .map((line) => (
              <Checkbox
                key={line.ref}
                label={`${line.label} · ${begun(plain(line.stem), 56)}`}
                checked={scope.without.includes(line.ref)}
                onChange={() => set({ ...scope, without: toggled(scope.without, line.ref) })}
              />
            ))}
        </Disclosure>
        <Disclosure
          name={t`Without students`}
          remark={scope.out.length > 0 && plural(scope.out.length, { one: "# student", other: "# students" })}
          open={scope.out.length > 0}
        >
          {students
            .filter((student) => student.total !== null || scope.out.includes(student.seat))
            .map((student) => (
              <Checkbox
                key={student.seat}
                label={student.name}
                checked={scope.out.includes(student.seat)}
                onChange={() => set({ ...scope, out: toggled(scope.out, student.seat) })}
              />
            ))}
        </Disclosure>
        <div className="mt-4 flex gap-3">
          <Button variant="main" onClick={() => setOpen(false)}>{t`See them`}</Button>
          <Button onClick={back} disabled={!changed}>{t`As it is`}</Button>
        </div>
      </Dialog>
    </>
  );
}

/** Says over every look at changed figures that they are changed, and leads back. */
export function SeenOtherwise({ seen }: { seen: string }) {
  const { back } = useScope();
  if (!seen) return null;
  return (
    <p role="status" className="border-b border-hairline bg-ochre-wash px-6 py-1.5 text-sm">
      <span className="font-semibold text-ochre">{t`◐ Seen ${seen}.`}</span>{" "}
      <Button variant="quiet" onClick={back}>{t`back to the sitting as it is`}</Button>
    </p>
  );
}
