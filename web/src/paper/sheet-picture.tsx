import { t } from "@lingui/core/macro";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";

type Sheet = Schemas["SheetOnScreen"];
type Box = { x_mm: number; y_mm: number; w_mm: number; h_mm: number };

/** Where a place of the page lies, as shares of its picture. */
const at = (sheet: Sheet, box: Box) => ({
  left: `${(100 * box.x_mm) / sheet.width_mm}%`,
  top: `${(100 * box.y_mm) / sheet.height_mm}%`,
  width: `${(100 * box.w_mm) / sheet.width_mm}%`,
  height: `${(100 * box.h_mm) / sheet.height_mm}%`,
});

/** A page as it was scanned, with one place lit. Whatever lies on it is placed in millimetres of the paper. */
export function SheetPicture({ sheet, lit, children }: { sheet: Sheet; lit?: Box | undefined; children?: ReactNode }) {
  return (
    <figure>
      <div className="relative border border-hairline bg-white">
        <img
          src={sheet.picture}
          alt={t`Page ${sheet.sheet_page || sheet.number} of ${sheet.student || t`a sheet`}, as scanned`}
          className="block w-full"
          style={sheet.straight ? { aspectRatio: `${sheet.width_mm} / ${sheet.height_mm}` } : undefined}
        />
        {lit && sheet.straight && <Lit sheet={sheet} box={lit} />}
        {children}
      </div>
      <figcaption className="mt-2 text-sm text-graphite">{t`${sheet.scan}, page ${sheet.number}`}</figcaption>
    </figure>
  );
}

/** A frame around a place. */
export function Lit({ sheet, box }: { sheet: Sheet; box: Box }) {
  return (
    <div aria-hidden className="pointer-events-none absolute border-2 border-iris bg-iris/12" style={at(sheet, box)} />
  );
}

/** A place that can be chosen on the picture. */
export function Spot({
  sheet,
  box,
  label,
  onChoose,
  asks,
}: {
  sheet: Sheet;
  box: Box;
  label: string;
  onChoose: () => void;
  asks: boolean;
}) {
  return (
    <button
      // As large as the place is on the paper; the same is chosen in the list beside it.
      data-equal-beside
      type="button"
      aria-label={label}
      onClick={onChoose}
      className={`absolute cursor-pointer border hover:border-iris hover:bg-iris/10 ${asks ? "border-2 border-clay" : "border-transparent"}`}
      style={at(sheet, box)}
    />
  );
}

/** One place of a page, enlarged: the same picture, moved behind a window. */
export function Enlarged({ sheet, box, label }: { sheet: Sheet; box: Box; label: string }) {
  const margin = 3;
  const x = Math.max(0, box.x_mm - margin);
  const y = Math.max(0, box.y_mm - margin);
  const w = Math.min(sheet.width_mm - x, box.w_mm + 2 * margin);
  const h = Math.min(sheet.height_mm - y, box.h_mm + 2 * margin);
  return (
    <svg
      role="img"
      aria-label={label}
      viewBox={`${x} ${y} ${w} ${h}`}
      className="block max-h-80 w-full border border-hairline bg-white"
    >
      <image href={sheet.picture} x={0} y={0} width={sheet.width_mm} height={sheet.height_mm} />
    </svg>
  );
}
