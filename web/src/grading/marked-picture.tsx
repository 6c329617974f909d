import { t } from "@lingui/core/macro";
import { type PointerEvent, useRef, useState } from "react";
import { Button } from "../ui/button";
import { NoteBar } from "./note-bar";
import type { Area, Remark, Remarks } from "./use-remarks";

type Box = Pick<Area, "x" | "y" | "w" | "h">;
type Props = {
  src: string;
  alt: string;
  /** Which picture of the answer it is. */
  file: number;
  page: number;
  remarks: Remark[];
  onMake: Remarks["make"];
};

const SIZES = [100, 150, 220];
const WHOLE: Box = { x: 0, y: 0, w: 1, h: 1 };
const SMALLEST = 0.01;

/** A picture of an answer: larger and smaller, with what its marker noted on it; draw over a part to note something. */
export function MarkedPicture({ src, alt, file, page, remarks, onMake }: Props) {
  const [size, setSize] = useState(0);
  const [drawn, setDrawn] = useState<Box | null>(null);
  const from = useRef<{ x: number; y: number } | null>(null);
  const [settled, setSettled] = useState(false);
  const here = remarks.filter(({ place }) => place.kind === "area" && place.file === file && place.page === page);
  const at = (event: PointerEvent<HTMLDivElement>) => {
    const frame = event.currentTarget.getBoundingClientRect();
    const share = (value: number, whole: number) => Math.min(1, Math.max(0, value / whole));
    return { x: share(event.clientX - frame.left, frame.width), y: share(event.clientY - frame.top, frame.height) };
  };
  const done = () => {
    setDrawn(null);
    setSettled(false);
  };
  return (
    <figure className="mb-4">
      <div className="flex gap-3 text-sm" data-screen-only>
        <Button
          variant="quiet"
          disabled={size === SIZES.length - 1}
          onClick={() => setSize(size + 1)}
        >{t`larger`}</Button>
        <Button variant="quiet" disabled={size === 0} onClick={() => setSize(size - 1)}>{t`smaller`}</Button>
        <Button
          variant="quiet"
          onClick={() => {
            setDrawn(WHOLE);
            setSettled(true);
          }}
        >{t`a note on all of it`}</Button>
      </div>
      {drawn && settled && (
        <NoteBar
          what={drawn === WHOLE ? t`the whole picture` : t`this part`}
          onMake={(text) => {
            onMake({ kind: "area", file, page, ...drawn }, text);
            done();
          }}
          onCancel={done}
        />
      )}
      <div className="overflow-x-auto">
        <div
          className="relative cursor-crosshair touch-pan-y select-none"
          style={{ width: `${SIZES[size]}%` }}
          onPointerDown={(event) => {
            from.current = at(event);
            setSettled(false);
            event.currentTarget.setPointerCapture(event.pointerId);
          }}
          onPointerMove={(event) => {
            if (!from.current) return;
            const to = at(event);
            setDrawn({
              x: Math.min(from.current.x, to.x),
              y: Math.min(from.current.y, to.y),
              w: Math.abs(to.x - from.current.x),
              h: Math.abs(to.y - from.current.y),
            });
          }}
          onPointerUp={() => {
            from.current = null;
            if (drawn && drawn.w > SMALLEST && drawn.h > SMALLEST) setSettled(true);
            else setDrawn(null);
          }}
        >
          <img src={src} alt={alt} className="w-full" draggable={false} />
          {here.map(({ id, place, text }, number) =>
            place.kind === "area" ? <Frame key={id} box={place} name={String(number + 1)} title={text} /> : null,
          )}
          {drawn && <Frame box={drawn} name="" title="" />}
        </div>
      </div>
    </figure>
  );
}

const percent = (share: number) => `${share * 100}%`;

function Frame({ box, name, title }: { box: Box; name: string; title: string }) {
  return (
    <span
      title={title}
      className="absolute border-2 border-ochre"
      style={{ left: percent(box.x), top: percent(box.y), width: percent(box.w), height: percent(box.h) }}
    >
      {name && <span className="absolute -top-3 -start-3 bg-ochre px-1.5 text-xs font-semibold text-page">{name}</span>}
    </span>
  );
}
