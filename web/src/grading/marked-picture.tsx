import { t } from "@lingui/core/macro";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { Button } from "../ui/button";
import { TextInput } from "../ui/field";
import { FINE, type OnPicture, WIDTH } from "../ui/ink";
import { Ink, InkedPicture } from "../ui/inked-picture";
import { NoteBar } from "./note-bar";
import { movedBy, nearest, type Point, type Pressed, strokeOf } from "./pen";
import type { Pen } from "./use-pen";
import type { Remark, Remarks } from "./use-remarks";

type Props = {
  src: string;
  alt: string;
  /** Which picture of the answer it is. */
  file: number;
  page: number;
  remarks: Remark[];
  pen: Pen;
  doing: Pick<Remarks, "make" | "replace" | "takeBack"> | null;
};

type Box = { x: number; y: number; w: number; h: number };
/** What is being done: a frame that waits for its note, words that are being written, one that is held. */
type Doing =
  | { kind: "note"; box: Box }
  | { kind: "words"; at: Point; text: string; of?: Remark }
  | { kind: "held"; remark: Remark }
  | null;

const SMALLEST = 0.01;
const WHOLE: Box = { x: 0, y: 0, w: 1, h: 1 };
const MIDDLE: Point = { x: 0.5, y: 0.1 };
const STEP = 0.02;

/** Where on the picture what is asked about it stands: below it, so that it is seen. */
function below(doing: Exclude<Doing, null>): number {
  if (doing.kind === "note") return doing.box === WHOLE ? 0.02 : doing.box.y + doing.box.h + 0.01;
  if (doing.kind === "words") return doing.at.y;
  const { place } = doing.remark;
  if (place.kind === "stroke") return Math.max(...place.points.filter((_, at) => at % 3 === 1)) / FINE + 0.02;
  return place.kind === "stretch" ? 0 : place.kind === "area" ? place.y + place.h + 0.01 : place.y + 0.05;
}

/** A picture of an answer on which a pen writes: with the pointer, a stylus, a finger, or the arrow keys. */
export function MarkedPicture({ src, alt, file, page, remarks, pen, doing }: Props) {
  const [live, setLive] = useState<OnPicture | null>(null);
  const [open, setOpen] = useState<Doing>(null);
  const [aim, setAim] = useState<Point | null>(null);
  const from = useRef<{ points: Pressed[]; moved: boolean; held: Remark | null } | null>(null);
  /** A palm that rests on the page draws nothing once a stylus was seen. */
  const stylus = useRef(false);
  const aimedFrom = useRef<Point | null>(null);
  /** Whoever came here with the pointer means the desk with the arrow keys, and not a place on the picture. */
  const pointed = useRef(false);
  const heightRef = useRef(WIDTH);
  const on = { file, page };
  const here = remarks.filter(
    (one): one is Remark & { place: OnPicture } =>
      one.place.kind !== "stretch" && one.place.file === file && one.place.page === page,
  );
  const pointOf = (event: { clientX: number; clientY: number; pressure?: number }, frame: DOMRect): Pressed => ({
    x: Math.min(1, Math.max(0, (event.clientX - frame.left) / frame.width)),
    y: Math.min(1, Math.max(0, (event.clientY - frame.top) / frame.height)),
    // A mouse has no pressure; a stylus that says nothing of it is taken for a middle one.
    pressure: event.pressure || 0.5,
  });
  const shape = (points: Pressed[]): OnPicture | null => {
    const [first] = points;
    const last = points.at(-1);
    if (!first || !last) return null;
    if (pen.tool === "pen" || pen.tool === "broad")
      return strokeOf(points, pen.tool === "broad", heightRef.current, on);
    if (pen.tool === "underline")
      return { kind: "underline", ...on, x: first.x, y: first.y, to_x: last.x, to_y: last.y };
    if (pen.tool === "frame")
      return {
        kind: "area",
        ...on,
        x: Math.min(first.x, last.x),
        y: Math.min(first.y, last.y),
        w: Math.abs(first.x - last.x),
        h: Math.abs(first.y - last.y),
      };
    return null;
  };
  /** A press that did not move: a sign, words, a stamp, or one that is taken in the hand. */
  const pressAt = (at: Point) => {
    if (!doing) return;
    if (pen.tool === "tick" || pen.tool === "cross" || pen.tool === "question")
      doing.make({ kind: "sign", ...on, sign: pen.tool, x: at.x, y: at.y }, "", pen.criterion);
    else if (pen.tool === "words") setOpen({ kind: "words", at, text: "" });
    else if (pen.tool === "stamp" && pen.stamp)
      doing.make({ kind: "words", ...on, x: at.x, y: at.y, stamped: true }, pen.stamp, pen.criterion);
    else if (pen.tool === "move") {
      const remark = nearest(
        here.filter((one) => one.mine),
        at,
        heightRef.current,
      );
      setOpen(remark && { kind: "held", remark });
    }
  };
  const finish = (place: OnPicture | null) => {
    if (!doing || !place) return;
    if (place.kind === "area") {
      if (place.w > SMALLEST && place.h > SMALLEST) {
        const { x, y, w, h } = place;
        setOpen({ kind: "note", box: { x, y, w, h } });
      }
    } else if (place.kind !== "underline" || Math.hypot(place.to_x - place.x, place.to_y - place.y) > SMALLEST)
      doing.make(place, "", pen.criterion);
  };
  const down = (event: PointerEvent<HTMLDivElement>) => {
    if (!doing || event.button !== 0) return;
    pointed.current = true;
    if (event.pointerType === "pen") stylus.current = true;
    if (event.pointerType === "touch" && stylus.current) return;
    const at = pointOf(event, event.currentTarget.getBoundingClientRect());
    const held =
      pen.tool === "move"
        ? nearest(
            here.filter((one) => one.mine),
            at,
            heightRef.current,
          )
        : null;
    from.current = { points: [at], moved: false, held };
    setOpen(null);
    setAim(null);
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const move = (event: PointerEvent<HTMLDivElement>) => {
    const begun = from.current;
    if (!begun) return;
    const frame = event.currentTarget.getBoundingClientRect();
    // What came between two pictures of the screen belongs to the line as well.
    const all = event.nativeEvent.getCoalescedEvents?.() ?? [];
    for (const one of all.length > 0 ? all : [event.nativeEvent]) begun.points.push(pointOf(one, frame));
    const [first] = begun.points;
    const last = begun.points.at(-1);
    if (!first || !last) return;
    begun.moved ||= Math.hypot((last.x - first.x) * frame.width, (last.y - first.y) * frame.height) > 3;
    if (begun.held && begun.moved)
      setLive(movedBy(begun.held.place as OnPicture, { x: last.x - first.x, y: last.y - first.y }));
    else if (!begun.held) setLive(shape(begun.points));
  };
  const up = () => {
    const begun = from.current;
    from.current = null;
    setLive(null);
    const first = begun?.points[0];
    const last = begun?.points.at(-1);
    if (!begun || !first || !last) return;
    if (begun.held && begun.moved && doing)
      doing.replace(begun.held, {
        place: movedBy(begun.held.place as OnPicture, { x: last.x - first.x, y: last.y - first.y }),
      });
    else if (begun.held) setOpen({ kind: "held", remark: begun.held });
    else if (pen.tool === "pen" || pen.tool === "broad" || begun.moved) finish(shape(begun.points));
    else pressAt(first);
  };
  const keys = (event: KeyboardEvent<HTMLDivElement>) => {
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
    if (pointed.current && event.key !== "Escape") return;
    const ways: Record<string, Point> = {
      ArrowLeft: { x: -STEP, y: 0 },
      ArrowRight: { x: STEP, y: 0 },
      ArrowUp: { x: 0, y: -STEP },
      ArrowDown: { x: 0, y: STEP },
    };
    const way = ways[event.key];
    if (way) {
      const now = aim ?? MIDDLE;
      const next = { x: Math.min(1, Math.max(0, now.x + way.x)), y: Math.min(1, Math.max(0, now.y + way.y)) };
      setAim(next);
      if (aimedFrom.current) setLive(shape([aimedFrom.current, next].map((one) => ({ ...one, pressure: 0.5 }))));
    } else if (event.key === "Enter" && aim) {
      const drawn = pen.tool === "pen" || pen.tool === "broad" || pen.tool === "underline" || pen.tool === "frame";
      if (!drawn) pressAt(aim);
      else if (!aimedFrom.current) aimedFrom.current = aim;
      else {
        finish(shape([aimedFrom.current, aim].map((one) => ({ ...one, pressure: 0.5 }))));
        aimedFrom.current = null;
        setLive(null);
      }
    } else if (event.key === "Escape" && (aim || open)) {
      aimedFrom.current = null;
      setAim(null);
      setLive(null);
      setOpen(null);
    } else return;
    // The desk would take these for its own.
    event.preventDefault();
    event.stopPropagation();
  };
  const write = (now: Extract<Doing, { kind: "words" }>) => {
    const text = now.text.trim();
    setOpen(null);
    if (!text || !doing) return;
    if (now.of) doing.replace(now.of, { text });
    else doing.make({ kind: "words", ...on, x: now.at.x, y: now.at.y, stamped: false }, text, pen.criterion);
  };
  const held = open?.kind === "held" ? here.find((one) => one.key === open.remark.key) : undefined;
  return (
    <figure className="mb-4">
      <div className="overflow-x-auto">
        {/* biome-ignore lint/a11y/useSemanticElements: a set of form fields is something else */}
        <div
          role="group"
          aria-label={doing ? t`${alt}: arrow keys aim, Enter writes` : alt}
          tabIndex={doing ? 0 : undefined}
          className={`relative select-none ${doing ? "cursor-crosshair" : ""} ${doing && pen.tool !== "frame" ? "touch-none" : "touch-pan-y"}`}
          style={{ width: `${pen.size}%` }}
          onPointerDown={down}
          onPointerMove={move}
          onPointerUp={up}
          onPointerCancel={() => {
            from.current = null;
            setLive(null);
          }}
          onKeyDown={keys}
          onBlur={() => {
            pointed.current = false;
          }}
        >
          <InkedPicture
            src={src}
            alt={alt}
            remarks={here.filter((one) => !(live && from.current?.held?.key === one.key))}
          >
            {(height) => {
              heightRef.current = height;
              return (
                <>
                  {live && <Ink place={live} height={height} />}
                  {open?.kind === "note" && <Ink place={{ kind: "area", ...on, ...open.box }} height={height} />}
                  {aim && (
                    <span
                      className="pointer-events-none absolute size-5 -translate-1/2 rounded-full border-2 border-iris"
                      style={{ left: `${aim.x * 100}%`, top: `${aim.y * 100}%` }}
                    />
                  )}
                </>
              );
            }}
          </InkedPicture>
          {open && (
            <div
              className="absolute inset-x-2 z-20 bg-page"
              style={{ top: `min(${100 * below(open)}%, 100% - 5rem)` }}
              onPointerDown={(event) => event.stopPropagation()}
            >
              {open?.kind === "note" && (
                <NoteBar
                  what={open.box === WHOLE ? t`the whole picture` : t`this part`}
                  bare={t`Just the frame`}
                  onMake={(text) => {
                    doing?.make({ kind: "area", ...on, ...open.box }, text, pen.criterion);
                    setOpen(null);
                  }}
                  onCancel={() => setOpen(null)}
                />
              )}
              {held && doing && (
                <div className="flex flex-wrap items-center gap-3 border border-plum bg-plum-wash px-3 py-1.5 text-sm">
                  <span className="min-w-0 flex-1 truncate">{held.text || t`Drag it to another place.`}</span>
                  {held.place.kind === "words" && (
                    <Button
                      onClick={() =>
                        setOpen({
                          kind: "words",
                          at: { x: held.place.kind === "words" ? held.place.x : 0, y: 0 },
                          text: held.text,
                          of: held,
                        })
                      }
                    >{t`Reword`}</Button>
                  )}
                  <Button
                    onClick={() => {
                      doing.takeBack([held]);
                      setOpen(null);
                    }}
                  >{t`Take it out`}</Button>
                </div>
              )}
              {open?.kind === "words" && (
                <form
                  className="flex gap-2"
                  onSubmit={(event) => {
                    event.preventDefault();
                    write(open);
                  }}
                >
                  <TextInput
                    autoFocus
                    aria-label={t`Words to write there`}
                    maxLength={300}
                    value={open.text}
                    onChange={(event) => setOpen({ ...open, text: event.target.value })}
                    onKeyDown={(event) => event.key === "Escape" && setOpen(null)}
                  />
                  <Button type="submit" variant="main" disabled={!open.text.trim()}>{t`Write`}</Button>
                </form>
              )}
            </div>
          )}
        </div>
      </div>
      {doing && (
        <Button
          variant="quiet"
          className="text-sm"
          onClick={() => setOpen({ kind: "note", box: WHOLE })}
        >{t`a note on all of it`}</Button>
      )}
    </figure>
  );
}
