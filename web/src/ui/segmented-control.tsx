import { ToggleGroup } from "radix-ui";

type Props<T extends string> = { label: string; value: T; options: Record<T, string>; onChange: (value: T) => void };

/** A few views of one place, of which one is shown. */
export function SegmentedControl<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      className="mb-3 flex gap-1 border-b border-hairline"
      value={value}
      // The one that is chosen stays chosen when it is pressed again.
      onValueChange={(chosen) => chosen && onChange(chosen as T)}
    >
      {(Object.entries(options) as [T, string][]).map(([name, words]) => (
        <ToggleGroup.Item
          key={name}
          value={name}
          className="-mb-px border-transparent border-b-2 px-3 py-1.5 text-graphite text-sm hover:text-ink data-[state=on]:border-iris data-[state=on]:font-semibold data-[state=on]:text-ink"
        >
          {words}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
