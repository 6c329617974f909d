import { t } from "@lingui/core/macro";
import type { CSSProperties } from "react";
import { NumberInput } from "../ui/number-input";
import { amount } from "../ui/words";
import { isOneKey } from "./digits";
import type { MarkingItem } from "./types";

const MOST_SIDE_BY_SIDE = 5;

type Criterion = MarkingItem["rubric"]["criteria"][number];
type Props = {
  criteria: Criterion[];
  points: Record<string, number>;
  active: number;
  onActive: (at: number) => void;
  onSet: (criterion: string, value: number) => void;
  /** As `onSet`, while the criterion stays at hand. */
  onSlide: (criterion: string, value: number) => void;
};

const short = (value: number) => amount(value, value % 1 ? 1 : 0);

/** The criteria, each with its levels; the one that digit keys mark has a line beside it. */
export function RubricMarks({ criteria, points, active, onActive, onSet, onSlide }: Props) {
  return (
    <>
      {criteria.map((criterion, at) => {
        const given = points[criterion.id];
        const levels = [...criterion.levels].sort((a, b) => a.points - b.points);
        return (
          <fieldset
            key={criterion.id}
            aria-label={criterion.name}
            onFocus={() => onActive(at)}
            className={`mb-3 border-s-3 ps-3 ${at === active ? "border-iris" : "border-transparent"}`}
          >
            <div className="mb-1 flex items-center justify-between gap-3">
              <strong className="min-w-0 wrap-anywhere">{criterion.name}</strong>
              <span className="flex shrink-0 items-center gap-1.5 text-graphite">
                <NumberInput
                  label={t`Points for ${criterion.name}`}
                  className="w-16! py-0! text-end"
                  min={0}
                  max={criterion.max}
                  step={0.5}
                  value={given ?? null}
                  onChange={(value) => value !== null && onSet(criterion.id, value)}
                />
                {t`of ${short(criterion.max)}`}
              </span>
            </div>
            {(levels.length === 0 || !isOneKey(criterion)) && (
              <input
                type="range"
                aria-label={t`${criterion.name}, by hand`}
                // The field above takes the same by keyboard.
                tabIndex={-1}
                min={0}
                max={criterion.max}
                step={0.5}
                value={given ?? 0}
                onChange={(event) => onSlide(criterion.id, Number(event.target.value))}
                className={`mb-1 block h-6 w-full accent-iris ${given === undefined ? "opacity-50" : ""}`}
              />
            )}
            {levels.length > 0 && (
              <div
                // Side by side from least to most, so that a scale is read from left to right, as long as a word has room;
                // below one another on a phone.
                className="grid gap-1 sm:grid-cols-[repeat(auto-fit,minmax(max(5.5rem,calc(100%/var(--levels)-0.25rem)),1fr))]"
                style={{ "--levels": Math.min(levels.length, MOST_SIDE_BY_SIDE) } as CSSProperties}
              >
                {levels.map((level) => (
                  <button
                    key={level.points}
                    type="button"
                    aria-pressed={given === level.points}
                    onClick={() => onSet(criterion.id, level.points)}
                    className={`flex flex-col justify-start border px-2.5 py-1 text-start text-sm leading-snug wrap-anywhere ${given === level.points ? "border-ink bg-ink text-page" : "border-hairline bg-page hover:border-edge"}`}
                  >
                    <strong className="block">{short(level.points)}</strong>
                    {level.words}
                  </button>
                ))}
              </div>
            )}
          </fieldset>
        );
      })}
    </>
  );
}
