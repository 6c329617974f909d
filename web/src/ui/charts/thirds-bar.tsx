import { t } from "@lingui/core/macro";

// Strength of a colour for the strongest, the middle and the weakest third.
const STRENGTH = [100, 62, 34];
const NAMES = [t`upper`, t`middle`, t`lower`];
const shade = (colour: string, strength: number) => `color-mix(in oklab, var(--${colour}) ${strength}%, var(--track))`;

/** How many chose an option, cut by thirds, the strongest first. `thirds` run from weakest to strongest. */
export function ThirdsBar({ thirds, of, right }: { thirds: number[]; of: number; right: boolean }) {
  const parts = thirds.toReversed();
  const words = parts
    .map((count, place) => t`${Math.round(count * 10) / 10} of the ${NAMES[place] ?? ""} third`)
    .join(", ");
  return (
    <span role="img" aria-label={words} className="flex h-3 self-center bg-track">
      {parts.map((count, place) => (
        <span
          key={NAMES[place]}
          className={count > 0 ? "border-e border-page" : ""}
          style={{
            width: `${(100 * count) / of}%`,
            background: shade(right ? "teal" : "plum", STRENGTH[place] ?? 0),
          }}
        />
      ))}
    </span>
  );
}

export function ThirdsLegend() {
  return (
    <span className="flex gap-3">
      {NAMES.map((name, place) => (
        <span key={name} className="flex items-center gap-1">
          <span className="size-3" style={{ background: shade("ink", STRENGTH[place] ?? 0) }} />
          {name}
        </span>
      ))}
      {t`third`}
    </span>
  );
}
