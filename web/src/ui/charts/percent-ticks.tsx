import { percent } from "../words";

type Props = { x: (share: number) => number; top: number; bottom: number; height: number };

/** The quarters of the way from nothing to all, as hairlines with their percent below. */
export function PercentTicks({ x, top, bottom, height }: Props) {
  return [0, 0.25, 0.5, 0.75, 1].map((tick) => (
    <g key={tick}>
      <line x1={x(tick)} x2={x(tick)} y1={top - 4} y2={height - bottom} stroke="var(--hairline)" />
      <text x={x(tick)} y={height - 6} textAnchor="middle" fill="var(--graphite)">
        {percent(tick)}
      </text>
    </g>
  ));
}
