/** The round place before an option that makes it the key. */
export function KeyToggle({
  letter,
  on,
  name,
  onChoose,
}: {
  letter: string;
  on: boolean;
  name: string;
  onChoose: () => void;
}) {
  const look = on ? "border-teal bg-teal text-page" : "border-edge text-ink hover:border-teal";
  return (
    <label className="relative mt-0.5 shrink-0">
      <input
        type="radio"
        name={name}
        checked={on}
        onChange={onChoose}
        className="peer absolute inset-0 opacity-0"
        aria-label={`${letter} is the key`}
      />
      <span
        className={`flex size-8 items-center justify-center rounded-full border font-serif text-sm font-semibold peer-focus-visible:outline-2 peer-focus-visible:outline-offset-2 peer-focus-visible:outline-iris ${look}`}
      >
        {on ? `${letter} ✓` : letter}
      </span>
    </label>
  );
}
