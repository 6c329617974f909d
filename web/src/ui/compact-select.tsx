import { Choice } from "./field";

type Props = { name: string; value: string; of: { [value: string]: string }; onChange: (value: string) => void };

/** One of a few ways to look at a page, small enough to stand among its buttons. */
export function CompactSelect({ name, value, of, onChange }: Props) {
  return (
    <Choice
      low
      className="w-auto! max-w-[min(20rem,100%)]!"
      aria-label={name}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      {Object.entries(of).map(([one, words]) => (
        <option key={one} value={one}>
          {words}
        </option>
      ))}
    </Choice>
  );
}
