import { t } from "@lingui/core/macro";
import { type PointerEvent, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { Field, Problem, TextInput } from "../../ui/field";
import { changed } from "../../ui/lists";
import { NumberInput } from "../../ui/number-input";
import { TakeOut } from "../../ui/take-out";
import { keepPicture } from "../pictures";
import { IdeaNote, letterOf, newId } from "./parts";
import type { ContentOf, EditorProps } from "./types";

type Region = Schemas["Region"];
type Point = { x: number; y: number };
const round = (share: number) => Math.round(Math.min(1, Math.max(0, share)) * 1000) / 1000;

export function PicturePointEditor({ content, onChange }: EditorProps<ContentOf<"picture_point">>) {
  const [error, setError] = useState<unknown>(null);
  const file = useRef<HTMLInputElement>(null);
  const { regions } = content;
  const set = (part: Partial<typeof content>) => onChange({ ...content, ...part });
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    setError(null);
    try {
      const kept = await keepPicture(chosen);
      set({ picture: kept.id, ratio: kept.width / kept.height });
    } catch (refused) {
      setError(refused);
    }
  };
  const add = (box: Omit<Region, "id" | "round" | "right" | "name" | "idea_note">) =>
    set({
      regions: [
        ...regions,
        { ...box, id: newId(), round: false, right: !regions.some((region) => region.right), name: "", idea_note: "" },
      ],
    });
  return (
    <>
      <div className="mb-3">
        <Button onClick={() => file.current?.click()}>
          {content.picture ? t`Another picture` : t`Choose the picture`}
        </Button>
        <input
          ref={file}
          type="file"
          accept="image/*"
          aria-label={t`Choose the picture`}
          className="hidden"
          onChange={(event) => void take(event.target.files?.[0])}
        />
      </div>
      <Problem error={error} />
      {content.picture && (
        <>
          <RegionCanvas content={content} onAdd={add} />
          <Field label={t`What the picture shows`} hint={t`For students who cannot see it.`}>
            {(id) => (
              <TextInput
                id={id}
                maxLength={300}
                value={content.picture_words}
                onChange={(event) => set({ picture_words: event.target.value })}
              />
            )}
          </Field>
          <fieldset className="mb-4">
            <legend className="mb-2 text-sm font-semibold">{t`Regions: drag over the picture to draw one, or add one and say where it lies`}</legend>
            {regions.map((region, at) => (
              <div key={region.id} className="mb-2">
                <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
                  <span className="w-5 font-serif font-semibold">{letterOf(at)}</span>
                  <TextInput
                    aria-label={t`Name of region ${letterOf(at)}`}
                    className="w-44!"
                    placeholder={t`what it is`}
                    maxLength={300}
                    value={region.name}
                    onChange={(event) => set({ regions: changed(regions, region.id, { name: event.target.value }) })}
                  />
                  <Checkbox
                    label={t`right`}
                    checked={region.right}
                    onChange={(right) => set({ regions: changed(regions, region.id, { right }) })}
                  />
                  <Checkbox
                    label={t`round`}
                    checked={region.round}
                    onChange={(isRound) => set({ regions: changed(regions, region.id, { round: isRound }) })}
                  />
                  <TakeOut
                    what={t`region ${letterOf(at)}`}
                    onTake={() => set({ regions: regions.filter((other) => other.id !== region.id) })}
                  />
                </div>
                <RegionPlace
                  letter={letterOf(at)}
                  region={region}
                  onChange={(part) => set({ regions: changed(regions, region.id, part) })}
                />
                {!region.right && (
                  <IdeaNote
                    label={t`What a point in region ${letterOf(at)} shows`}
                    value={region.idea_note}
                    onChange={(idea_note) => set({ regions: changed(regions, region.id, { idea_note }) })}
                  />
                )}
              </div>
            ))}
            <Button
              onClick={() => add({ x: 0.4, y: 0.4, width: 0.2, height: 0.2 })}
            >{t`Add a region in the middle`}</Button>
          </fieldset>
        </>
      )}
    </>
  );
}

type PlaceProps = { letter: string; region: Region; onChange: (part: Partial<Region>) => void };

/** Where a region lies, in hundredths of the picture: what dragging says, for keys. */
function RegionPlace({ letter, region, onChange }: PlaceProps) {
  const { x, y, width, height } = region;
  const sides = [
    { name: t`from the left`, at: x, most: 1 - width, put: (share: number) => ({ x: share }) },
    { name: t`from the top`, at: y, most: 1 - height, put: (share: number) => ({ y: share }) },
    { name: t`wide`, at: width, most: 1 - x, put: (share: number) => ({ width: share }) },
    { name: t`high`, at: height, most: 1 - y, put: (share: number) => ({ height: share }) },
  ];
  return (
    <p className="mt-1 ms-9 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm text-graphite">
      {sides.map(({ name, at, most, put }) => (
        <span key={name} className="flex items-center gap-1">
          {name}
          <NumberInput
            label={t`Region ${letter}, ${name}, percent`}
            className="w-18! py-0! text-end"
            min={0}
            max={Math.floor(1000 * most) / 10}
            value={Math.round(1000 * at) / 10}
            onChange={(percent) => percent !== null && onChange(put(round(percent / 100)))}
          />
          %
        </span>
      ))}
    </p>
  );
}

type CanvasProps = {
  content: ContentOf<"picture_point">;
  onAdd: (box: { x: number; y: number; width: number; height: number }) => void;
};

/** The picture with its regions; dragging draws a new one. */
function RegionCanvas({ content, onAdd }: CanvasProps) {
  const [from, setFrom] = useState<Point | null>(null);
  const [to, setTo] = useState<Point | null>(null);
  const at = (event: PointerEvent<HTMLDivElement>): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: round((event.clientX - box.left) / box.width), y: round((event.clientY - box.top) / box.height) };
  };
  const box = from && to && boxOf(from, to);
  return (
    <div
      data-on-picture
      className="relative mb-3 w-full max-w-lg cursor-crosshair touch-none select-none"
      style={{ aspectRatio: content.ratio }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setFrom(at(event));
        setTo(at(event));
      }}
      onPointerMove={(event) => from && setTo(at(event))}
      onPointerUp={() => {
        if (box && box.width > 0.01 && box.height > 0.01) onAdd(box);
        setFrom(null);
        setTo(null);
      }}
    >
      <img src={`/pictures/${content.picture}`} alt={content.picture_words} className="size-full" draggable={false} />
      {content.regions.map((region, place) => (
        <span
          key={region.id}
          className={`pointer-events-none absolute flex items-center justify-center border-2 font-serif font-semibold ${region.round ? "rounded-full" : ""} ${region.right ? "border-teal bg-teal-wash/60 text-teal" : "border-plum bg-plum-wash/60 text-plum"}`}
          style={placeOf(region)}
        >
          {letterOf(place)}
          {region.right && " ✓"}
        </span>
      ))}
      {box && <span className="pointer-events-none absolute border-2 border-iris" style={placeOf(box)} />}
    </div>
  );
}

const boxOf = (a: Point, b: Point) => ({
  x: Math.min(a.x, b.x),
  y: Math.min(a.y, b.y),
  width: round(Math.abs(a.x - b.x)),
  height: round(Math.abs(a.y - b.y)),
});
const placeOf = (box: { x: number; y: number; width: number; height: number }) => ({
  left: `${box.x * 100}%`,
  top: `${box.y * 100}%`,
  width: `${box.width * 100}%`,
  height: `${box.height * 100}%`,
});
