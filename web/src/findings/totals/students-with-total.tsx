import { plural, t } from "@lingui/core/macro";
import type { TotalsBar } from "../../ui/charts/distribution-chart";
import { Chip } from "../../ui/split-page";

type Props = { bar: TotalsBar | null; students: { name: string; total: number | null }[] };

/** Who stands in a bar of totals that was clicked, and who has none. */
export function WithTotal({ bar, students }: Props) {
  const without = students.filter((student) => student.total === null).map((student) => student.name);
  const inside = bar
    ? students.filter((student) => student.total !== null && bar.has(student.total)).map((student) => student.name)
    : [];
  return (
    <div className="mb-4 text-sm" aria-live="polite">
      {bar ? (
        <p className="flex flex-wrap items-center gap-1.5">
          <strong>{`${bar.name}: ${plural(inside.length, { one: "# student", other: "# students" })}`}</strong>
          {inside.map((name) => (
            <Chip key={name}>{name}</Chip>
          ))}
        </p>
      ) : (
        <p className="text-graphite" data-screen-only>{t`Click a bar to see who is in it.`}</p>
      )}
      {without.length > 0 && <p className="mt-1 text-graphite">{t`Without a total: ${without.join(", ")}`}</p>}
    </div>
  );
}
