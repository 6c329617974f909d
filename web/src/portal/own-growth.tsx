import { t } from "@lingui/core/macro";
import { lazy, Suspense, useEffect, useState } from "react";
import { dayOf, percent } from "../ui/words";
import { ownGrowth } from "./api";

const GrowthChart = lazy(async () => ({ default: (await import("../ui/charts/growth-chart")).GrowthChart }));
type Point = Awaited<ReturnType<typeof ownGrowth>>[number];

/** A student's own results over the year, as a line and as a list; nothing under two. */
export function OwnGrowth({ released }: { released: number }) {
  const [points, setPoints] = useState<Point[]>([]);
  useEffect(() => {
    // Asked for again when another result can be seen; without a connection the rest of the page says so.
    if (released > 1) ownGrowth().then(setPoints, () => {});
  }, [released]);
  if (points.length < 2) return null;
  return (
    <section className="mt-6">
      <h2 className="border-b border-hairline pb-1 font-semibold">{t`Over the year`}</h2>
      <Suspense>
        <GrowthChart points={points.map((point) => ({ ...point, of_class: null }))} name={t`Your results`} />
      </Suspense>
      <ul className="text-base">
        {points.map((point) => (
          <li key={point.sitting} className="flex justify-between gap-3 border-b border-hairline py-1">
            <span className="font-serif wrap-anywhere">{point.title}</span>
            <span className="whitespace-nowrap text-graphite">
              {dayOf(point.held_on)} <strong className="ms-2 text-ink">{percent(point.share)}</strong>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
