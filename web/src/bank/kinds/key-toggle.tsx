import { t } from "@lingui/core/macro";

type Props = {
  letter: string;
  on: boolean;
  name: string;
  onChoose: () => void;
  /** Several can be keys: a square box, and choosing again takes it back. */
  several?: boolean;
};

/** The place before an option that makes it a key. */
export function KeyToggle({ letter, on, name, onChoose, several = false }: Props) {
  const look = on ? "border-teal bg-teal text-page" : "border-edge text-ink hover:border-teal";
  return (
    <label className="relative mt-0.5 shrink-0">
      <input
        type={several ? "checkbox" : "radio"}
        name={name}
        checked={on}
        onChange={onChoose}
        className="peer absolute inset-0 opacity-0"
        aria-label={several ? t`${letter} is right` : t`${letter} is the key`}
      />
      <span
        className={`flex size-8 items-center justify-center border font-serif text-sm font-semibold peer-focus-visible:outline-2 peer-focus-visible:outline-offset-2 peer-focus-visible:outline-iris ${several ? "rounded-xs" : "rounded-full"} ${look}`}
      >
        {on ? `${letter} ✓` : letter}
      </span>
    </label>
  );
}
