type Props<T extends string> = { label: string; value: T; options: Record<T, string>; onChange: (value: T) => void };

/** A few views of one place, of which one is shown. */
export function SegmentedControl<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <div role="tablist" aria-label={label} className="mb-3 flex gap-1 border-b border-hairline">
      {(Object.entries(options) as [T, string][]).map(([name, words]) => (
        <button
          key={name}
          type="button"
          role="tab"
          aria-selected={name === value}
          onClick={() => onChange(name)}
          className={`-mb-px border-b-2 px-3 py-1.5 text-sm ${name === value ? "border-iris font-semibold" : "border-transparent text-graphite hover:text-ink"}`}
        >
          {words}
        </button>
      ))}
    </div>
  );
}
