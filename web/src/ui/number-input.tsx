import { TextInput } from "./field";

type NumberProps = {
  label: string;
  value: number | null | undefined;
  onChange: (value: number | null) => void;
  min?: number;
  max?: number;
  step?: number | "any";
  className?: string;
};

/** A number typed; nothing typed is null, and half-typed numbers wait. */
export function NumberInput({ label, value, onChange, step = "any", className = "", ...limits }: NumberProps) {
  return (
    <TextInput
      type="number"
      aria-label={label}
      step={step}
      {...limits}
      className={`min-h-6 ${className}`}
      // Uncontrolled while it is typed, so that “0.” is not taken away; the key brings in changes from outside.
      key={String(value)}
      defaultValue={value ?? ""}
      onBlur={(event) => {
        const typed = event.target.value;
        if (event.target.validity.valid) onChange(typed === "" ? null : Number(typed));
      }}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
