import { memo, type ReactNode, useState } from "react";
import { linesOf, type Place, WIDTH } from "./ink";

export type Shown = { key: string; place: Place; text: string };

type Props = {
  src: string;
  alt: string;
  remarks: Shown[];
  /** What is drawn just now, over the rest. */
  children?: (height: number) => ReactNode;
};

/** A picture with what a pen put on it. */
export function InkedPicture({ src, alt, remarks, children }: Props) {
  const [height, setHeight] = useState<number | null>(null);
  const noted = remarks.filter((one) => one.text && one.place.kind !== "words");
  return (
    <div dir="ltr" className="@container relative">
      <img
        src={src}
        alt={alt}
        className="w-full"
        draggable={false}
        onLoad={({ currentTarget }) => setHeight((WIDTH * currentTarget.naturalHeight) / currentTarget.naturalWidth)}
      />
      {height !== null && (
        <>
          <Sheet height={height}>
            {remarks.map(({ key, place }) => (
              <Drawn key={key} place={place} height={height} />
            ))}
          </Sheet>
          {remarks.map(({ key, place, text }) =>
            place.kind === "words" ? (
              <Written key={key} x={place.x} y={place.y} framed={place.stamped}>
                {text}
              </Written>
            ) : place.kind === "area" && text ? (
              <Written key={key} x={place.x} y={Math.max(0, place.y - 28 / height)} framed>
                {noted.findIndex((one) => one.key === key) + 1}
              </Written>
            ) : null,
          )}
          {children?.(height)}
        </>
      )}
    </div>
  );
}

/**
 * One thing that a pen drew. Each is an element of its own and is drawn once: one more on a page of five hundred strokes
 * asks the browser to paint where it is, and nowhere else.
 */
const Drawn = memo(function Drawn({ place, height }: { place: Place; height: number }) {
  return linesOf(place, height).map((line, at) => (
    <path
      // biome-ignore lint/suspicious/noArrayIndexKey: the lines of one stroke, which never change places
      key={at}
      d={line.path}
      strokeWidth={line.width}
      className={line.broad ? "stroke-[#d6a63a]/40" : "stroke-[#8e2a63]"}
    />
  ));
});

/** What is drawn just now. */
export function Ink({ place, height }: { place: Place; height: number }) {
  return (
    <Sheet height={height}>
      <Drawn place={place} height={height} />
    </Sheet>
  );
}

function Sheet({ height, children }: { height: number; children: ReactNode }) {
  return (
    <svg
      aria-hidden="true"
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="pointer-events-none absolute inset-0 h-full w-full will-change-transform"
      fill="none"
      strokeLinecap="round"
      strokeLinejoin="round"
    >
      {children}
    </svg>
  );
}

function Written({ x, y, framed, children }: { x: number; y: number; framed?: boolean; children: ReactNode }) {
  return (
    <span
      dir="auto"
      className={`pointer-events-none absolute text-[2.8cqw]/[1.1] font-semibold whitespace-pre-wrap text-[#8e2a63] ${
        framed ? "border border-[#8e2a63] bg-white/80 px-[0.3em]" : ""
      }`}
      style={{ left: `${x * 100}%`, top: `${y * 100}%`, maxWidth: `${(1 - x) * 100}%` }}
    >
      {children}
    </span>
  );
}
