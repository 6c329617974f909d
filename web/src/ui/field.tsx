import { type ComponentProps, type ReactNode, useId } from "react";

const box = "w-full rounded-xs border border-edge/60 bg-page px-2.5 py-1.5 text-ink focus:border-iris";

type FieldProps = { label: string; hint?: ReactNode; children: (id: string) => ReactNode };

/** A label above its control, with a hint below. */
export function Field({ label, hint, children }: FieldProps) {
  const id = useId();
  return (
    <div className="mb-4">
      <label htmlFor={id} className="mb-1 block text-sm font-semibold">
        {label}
      </label>
      {children(id)}
      {hint && <p className="mt-1 text-sm text-graphite">{hint}</p>}
    </div>
  );
}

export function TextInput({ className = "", ...rest }: ComponentProps<"input">) {
  return <input className={`${box} ${className}`} {...rest} />;
}

export function TextArea({ className = "", ...rest }: ComponentProps<"textarea">) {
  return <textarea className={`${box} field-sizing-content resize-none ${className}`} {...rest} />;
}

/** A choice of a few; `low` where it stands in a line of a table. */
export function Choice({ className = "", low = false, ...rest }: ComponentProps<"select"> & { low?: boolean }) {
  return <select className={`${box} ${low ? "py-0! min-h-6 max-w-56" : ""} ${className}`} {...rest} />;
}

/** A refusal or failure, in words, where it happened. */
export function Problem({ error }: { error: unknown }) {
  if (!error) return null;
  const { message, problems = [] } = error as { message: string; problems?: string[] };
  return (
    <div role="alert" className="my-3 border-s-2 border-clay bg-clay-wash px-3 py-2 text-sm">
      <p className="font-semibold text-clay">◆ {message}</p>
      {problems.length > 0 && (
        <ul className="mt-1">
          {problems.map((problem) => (
            <li key={problem}>{problem}</li>
          ))}
        </ul>
      )}
    </div>
  );
}
