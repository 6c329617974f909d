import { t } from "@lingui/core/macro";
import type { components } from "../schema";

/** What the teacher will look for, where they chose to show it. */
export function Rubric({ rubric }: { rubric: components["schemas"]["ShownRubric"] | null }) {
  if (!rubric) return null;
  return (
    <details className="mb-4 border-y border-hairline py-2">
      <summary className="min-h-8 text-graphite">{t`What your teacher looks for`}</summary>
      <dl className="mt-2">
        {rubric.criteria.map((criterion) => (
          <div key={criterion.name} className="mb-2">
            <dt className="font-semibold">{t`${criterion.name}, up to ${criterion.max}`}</dt>
            {criterion.levels.map((level) => (
              <dd key={level} className="text-base text-graphite">
                {level}
              </dd>
            ))}
          </div>
        ))}
      </dl>
    </details>
  );
}
