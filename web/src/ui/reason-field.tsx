import { t } from "@lingui/core/macro";
import { Field, TextInput } from "./field";

type Props = { value: string; hint: string; onChange: (reason: string) => void };

/** Why something is done that others will ask about; nothing of that kind is done without it. */
export function ReasonField({ value, hint, onChange }: Props) {
  return (
    <Field label={t`The reason`} hint={hint}>
      {(id) => (
        <TextInput id={id} required maxLength={300} value={value} onChange={(event) => onChange(event.target.value)} />
      )}
    </Field>
  );
}
