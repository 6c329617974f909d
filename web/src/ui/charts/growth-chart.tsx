import { t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { dayOf, percent } from "../words";

type Point = { held_on: string; title: string; share: number; of_class: number | null };

const WIDTH = 620;
const HEIGHT = 220;
const EDGE = { left: 44, right: 54, top: 14, bottom: 26 };

/** Shares of the marks over the year, oldest first: the student's line with a point a sitting, the class's dashed. */
export function GrowthChart({ points, name }: { points: Point[]; name: string }) {
  const days = points.map((point) => new Date(point.held_on).getTime());
  const x = scaleLinear({
    domain: [Math.min(...days), Math.max(...days) + (days.length > 1 ? 0 : 1)],
    range: [EDGE.left, WIDTH - EDGE.right],
  });
  const y = scaleLinear({ domain: [0, 1], range: [HEIGHT - EDGE.bottom, EDGE.top], clamp: true });
  const at = (place: number) => x(days[place] ?? 0);
  const path = (values: (number | null)[]) =>
    values.flatMap((value, place) => (value === null ? [] : [`${at(place)},${y(value)}`])).join(" ");
  const last = points.at(-1);
  const ofClass = points.map((point) => point.of_class);
  const apart = last && last.of_class !== null && Math.abs((y(last.share) ?? 0) - (y(last.of_class) ?? 0)) > 11;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full text-[12px]"
      role="img"
      aria-label={t`${name} over the year: ${points.map((point) => `${point.title} ${percent(point.share)}`).join(", ")}.`}
    >
      {[0, 0.25, 0.5, 0.75, 1].map((tick) => (
        <g key={tick}>
          <line x1={EDGE.left} x2={WIDTH - EDGE.right} y1={y(tick)} y2={y(tick)} stroke="var(--hairline)" />
          <text x={EDGE.left - 6} y={(y(tick) ?? 0) + 4} textAnchor="end" fill="var(--graphite)">
            {percent(tick)}
          </text>
        </g>
      ))}
      <polyline points={path(ofClass)} fill="none" stroke="var(--graphite)" strokeWidth={1.5} strokeDasharray="4 3" />
      <polyline points={path(points.map((point) => point.share))} fill="none" stroke="var(--iris)" strokeWidth={2} />
      {points.map((point, place) => (
        <circle key={`${point.held_on} ${point.title}`} cx={at(place)} cy={y(point.share)} r={4} fill="var(--iris)">
          <title>{`${point.title}, ${dayOf(point.held_on)}: ${percent(point.share)}`}</title>
        </circle>
      ))}
      {last && (
        <text x={at(points.length - 1) + 8} y={(y(last.share) ?? 0) + 4} fill="var(--iris)" fontWeight={600}>
          {percent(last.share)}
        </text>
      )}
      {apart && (
        <text
          x={at(points.length - 1) + 8}
          y={(y(last.of_class ?? 0) ?? 0) + 4}
          fill="var(--graphite)"
        >{t`class`}</text>
      )}
      {[points[0], ...(points.length > 1 ? [last] : [])].map(
        (one, end) =>
          one && (
            <text
              // biome-ignore lint/suspicious/noArrayIndexKey: the first and the last
              key={end}
              x={x(new Date(one.held_on).getTime())}
              y={HEIGHT - 8}
              textAnchor={end ? "end" : "start"}
              fill="var(--graphite)"
            >
              {dayOf(one.held_on)}
            </text>
          ),
      )}
    </svg>
  );
}
