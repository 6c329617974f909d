import { plural, t } from "@lingui/core/macro";
import { scaleLinear } from "@visx/scale";
import { type PointerEvent, useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { plain } from "../../ui/rich";
import { Opening, Region, SplitPage } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { begun, figure, percent } from "../../ui/words";
import { useScope } from "../use-analysis-filter";
import { crowdless } from "./map-labels";

type Question = Schemas["ReadQuestion"];
type Box = { x0: number; x1: number; y0: number; y1: number };

const WIDTH = 640;
const HEIGHT = 520;
const EDGE = { left: 54, right: 16, top: 18, bottom: 44 };
const LEAST_D = 0.2;
const FEW = 6;

type Props = { sittingId: number; body: Schemas["FindingsPageBody"] };

/** Every question by how many can do it and how well it tells them apart; draw over some to see only those. */
export function ItemMap({ sittingId, body }: Props) {
  const shown = body.paper.filter((one) => one.figures && one.figures.p !== null && one.figures.r_rest !== null);
  const flagged = new Set(body.flags.filter((flag) => flag.urgent).map((flag) => flag.ref));
  const { scope, set } = useScope();
  const [box, setBox] = useState<Box | null>(null);
  const from = useRef<{ x: number; y: number } | null>(null);
  const lowest = Math.min(-0.2, ...shown.map((one) => one.figures?.r_rest ?? 0));
  const highest = Math.max(0.6, ...shown.map((one) => one.figures?.r_rest ?? 0));
  const left = body.paper.filter((one) => one.figures && !shown.includes(one));
  const x = scaleLinear({ domain: [0, 1], range: [EDGE.left, WIDTH - EDGE.right] });
  const y = scaleLinear({ domain: [lowest - 0.05, highest + 0.08], range: [HEIGHT - EDGE.bottom, EDGE.top] });
  const at = (event: PointerEvent<SVGSVGElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    return {
      x: x.invert(((event.clientX - frame.left) / frame.width) * WIDTH),
      y: y.invert(((event.clientY - frame.top) / frame.height) * HEIGHT),
    };
  };
  const inside = (one: Question) => {
    const { p, r_rest } = one.figures ?? {};
    return !box || ((p ?? 0) >= box.x0 && (p ?? 0) <= box.x1 && (r_rest ?? 0) >= box.y0 && (r_rest ?? 0) <= box.y1);
  };
  const chosen = shown.filter(inside);
  const leaveOut = (some: Question[]) => {
    set({ ...scope, without: [...new Set([...scope.without, ...some.map((one) => one.ref)])] });
    setBox(null);
  };
  const labels = crowdless(
    shown.map((one) => ({ x: x(one.figures?.p ?? 0) ?? 0, y: y(one.figures?.r_rest ?? 0) ?? 0, text: one.label })),
  );
  return (
    <SplitPage
      split="even"
      names={{ left: t`The map`, right: t`The questions in it` }}
      left={
        <>
          <Opening>{opening(shown, flagged)}</Opening>
          <svg
            viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
            className="w-full cursor-crosshair touch-none text-[12px] select-none"
            role="img"
            aria-label={t`Map of ${shown.length} questions: right the easy ones, above those that tell students apart. The table beside it has the figures.`}
            onPointerDown={(event) => {
              from.current = at(event);
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event) => {
              if (!from.current) return;
              const to = at(event);
              setBox({
                x0: Math.min(from.current.x, to.x),
                x1: Math.max(from.current.x, to.x),
                y0: Math.min(from.current.y, to.y),
                y1: Math.max(from.current.y, to.y),
              });
            }}
            onPointerUp={() => {
              from.current = null;
              if (box && (box.x1 - box.x0 < 0.02 || box.y1 - box.y0 < 0.02)) setBox(null);
            }}
          >
            <rect
              x={EDGE.left}
              y={y(LEAST_D)}
              width={WIDTH - EDGE.left - EDGE.right}
              height={HEIGHT - EDGE.bottom - y(LEAST_D)}
              fill="var(--plum-wash)"
            />
            <text
              x={WIDTH - EDGE.right - 4}
              y={y(LEAST_D) + 14}
              textAnchor="end"
              fill="var(--plum)"
            >{t`tells little apart`}</text>
            {[0, 0.25, 0.5, 0.75, 1].map((tick) => (
              <g key={tick}>
                <line x1={x(tick)} x2={x(tick)} y1={EDGE.top} y2={HEIGHT - EDGE.bottom} stroke="var(--hairline)" />
                <text x={x(tick)} y={HEIGHT - EDGE.bottom + 16} textAnchor="middle" fill="var(--graphite)">
                  {percent(tick)}
                </text>
              </g>
            ))}
            {[-0.2, 0, 0.2, 0.4, 0.6, 0.8]
              .filter((tick) => tick < highest + 0.08)
              .map((tick) => (
                <g key={tick}>
                  <line x1={EDGE.left} x2={WIDTH - EDGE.right} y1={y(tick)} y2={y(tick)} stroke="var(--hairline)" />
                  <text x={EDGE.left - 6} y={y(tick) + 4} textAnchor="end" fill="var(--graphite)">
                    {figure(tick, 1)}
                  </text>
                </g>
              ))}
            <text
              x={(EDGE.left + WIDTH) / 2}
              y={HEIGHT - 8}
              textAnchor="middle"
              fill="var(--graphite)"
            >{t`share of the marks earned: hard to easy`}</text>
            <text
              transform={`translate(14 ${HEIGHT / 2}) rotate(-90)`}
              textAnchor="middle"
              fill="var(--graphite)"
            >{t`item-rest r: how well it agrees with the rest`}</text>
            {shown.map((one, place) => {
              const marked = flagged.has(one.ref);
              const label = labels[place];
              return (
                <g key={one.ref} opacity={inside(one) ? 1 : 0.25}>
                  <circle
                    cx={x(one.figures?.p ?? 0)}
                    cy={y(one.figures?.r_rest ?? 0)}
                    r={marked ? 6 : 4.5}
                    fill={marked ? "var(--plum)" : "var(--page)"}
                    stroke={marked ? "var(--plum)" : "var(--ink)"}
                    strokeWidth={1.5}
                  />
                  <text x={label?.x} y={label?.y} fill={marked ? "var(--plum)" : "var(--ink)"} fontWeight={600}>
                    {one.label}
                  </text>
                </g>
              );
            })}
            {box && (
              <rect
                x={x(box.x0)}
                y={y(box.y1)}
                width={(x(box.x1) ?? 0) - (x(box.x0) ?? 0)}
                height={(y(box.y0) ?? 0) - (y(box.y1) ?? 0)}
                fill="var(--iris)"
                fillOpacity={0.08}
                stroke="var(--iris)"
              />
            )}
          </svg>
          <p className="text-sm text-graphite">
            {t`● to look at first, ○ the others. Draw over some to see only those.`}
            {left.length > 0 &&
              t` Not on it, since everybody has the same: ${left.map((one) => one.label).join(", ")}.`}
          </p>
        </>
      }
      right={
        <Region
          name={
            box
              ? t`${plural(chosen.length, { one: "# question", other: "# questions" })} in the frame`
              : t`All ${plural(shown.length, { one: "# question", other: "# questions" })}`
          }
          remark={
            box && (
              <span className="flex flex-wrap gap-x-3" data-screen-only>
                {chosen.length > 0 && chosen.length < shown.length && (
                  <>
                    <Button
                      variant="quiet"
                      onClick={() => leaveOut(shown.filter((one) => !chosen.includes(one)))}
                    >{t`only these, in every look`}</Button>
                    <Button variant="quiet" onClick={() => leaveOut(chosen)}>{t`all but these`}</Button>
                  </>
                )}
                <Button variant="quiet" onClick={() => setBox(null)}>{t`show all`}</Button>
              </span>
            )
          }
        >
          <Table
            caption={t`Questions of the map`}
            heads={[
              { label: t`No.`, right: true },
              { label: t`Question` },
              { label: t`Earned`, right: true },
              { label: t`r rest`, right: true },
              { label: "D", right: true },
            ]}
          >
            {chosen.map((one) => (
              <Row key={one.ref} selected={flagged.has(one.ref)}>
                <Cell right>{one.label}</Cell>
                <Cell>
                  <Link className="wrap-anywhere" to={`/findings/${sittingId}?question=${one.number}`}>
                    {begun(plain(one.stem), 90) || t`Open it`}
                  </Link>
                </Cell>
                <Cell right>{percent(one.figures?.p)}</Cell>
                <Cell right>{figure(one.figures?.r_rest)}</Cell>
                <Cell right>{figure(one.figures?.d_rest)}</Cell>
              </Row>
            ))}
          </Table>
        </Region>
      }
    />
  );
}

function opening(shown: Question[], flagged: Set<string>): string {
  const weak = shown.filter((one) => (one.figures?.r_rest ?? 1) < LEAST_D);
  const easy = shown.filter((one) => (one.figures?.p ?? 0) >= 0.8).length;
  const hard = shown.filter((one) => (one.figures?.p ?? 1) <= 0.3).length;
  const rest = weak.length - FEW;
  const list = `${weak
    .slice(0, FEW)
    .map((one) => one.label)
    .join(", ")}${rest > 0 ? t` and ${rest} more` : ""}`;
  return t`${plural(easy, { one: "# question", other: "# questions" })} easy for this class, ${hard} hard. ${
    weak.length === 0
      ? t`All of them agree with the rest of the test.`
      : t`${plural(weak.length, { one: `Question ${list} agrees`, other: `Questions ${list} agree` })} little with the rest${flagged.size ? "" : t`, none of it firmly`}.`
  }`;
}
