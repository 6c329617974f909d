import { t } from "@lingui/core/macro";
import { type ComponentType, useEffect, useRef } from "react";
import type { Item } from "../student/kinds/types";
import { setGaps } from "../ui/gap-text";
import { Rich } from "../ui/rich";

type ItemOf<K extends Item["kind"]> = Extract<Item, { kind: K }>;

/** What a class reads from the back of the room: everything in ems, so that it grows with the type. */
const SHOWN: { [K in Item["kind"]]: ComponentType<{ item: ItemOf<K> }> } = {
  single_choice: ({ item }) => <Lettered lines={item.options} />,
  several_answers: ({ item }) => <Lettered lines={item.options} />,
  true_false: () => (
    <Lettered
      lines={[
        { id: "t", letter: "T", text: t`true` },
        { id: "f", letter: "F", text: t`false` },
      ]}
    />
  ),
  matching: ({ item }) => (
    <div className="grid grid-cols-2 gap-x-[1.5em]">
      <Lettered lines={item.rows.map((row, at) => ({ ...row, letter: String(at + 1) }))} />
      <Lettered lines={item.choices} />
    </div>
  ),
  ordering: ({ item }) => <Lettered lines={item.entries.map((entry) => ({ ...entry, letter: "–" }))} />,
  gaps: ({ item }) => <GapText item={item} />,
  picture_point: ({ item }) =>
    item.picture ? (
      <img
        src={`/pictures/${item.picture}`}
        alt={item.picture_words}
        className="h-[9em] border border-hairline bg-[#fff]"
        style={{ aspectRatio: item.ratio }}
      />
    ) : null,
  numeric: () => <Aside>{t`Answer on your device.`}</Aside>,
  short_text: () => <Aside>{t`Answer on your device.`}</Aside>,
  expression: () => <Aside>{t`Answer on your device.`}</Aside>,
  written: () => <Aside>{t`Answer on your device.`}</Aside>,
  file: () => <Aside>{t`To be handed in, not here.`}</Aside>,
  performance: () => <Aside>{t`Nothing to write: show it.`}</Aside>,
  marks_only: () => null,
};

/** What can be answered, of a question of any kind. */
export function Choices({ item }: { item: Item }) {
  // The union narrows per kind in the table above; here one cast joins item and component again.
  const Shown = SHOWN[item.kind] as ComponentType<{ item: Item }>;
  return <Shown item={item} />;
}

function Aside({ children }: { children: string }) {
  return <p className="text-[0.8em] text-graphite">{children}</p>;
}

function Lettered({ lines }: { lines: { id: string; letter: string; text: string }[] }) {
  return (
    <ul className="grid grid-cols-[auto_1fr] content-start gap-x-[0.9em] gap-y-[0.25em]">
      {lines.map((line) => (
        <li key={line.id} className="contents">
          <strong>{line.letter}</strong>
          <Rich html={line.text} />
        </li>
      ))}
    </ul>
  );
}

/** The text with a line where each gap is, numbered, and below it the words there are to pick from. */
function GapText({ item }: { item: ItemOf<"gaps"> }) {
  const holder = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!holder.current) return;
    const places = setGaps(holder.current, item.text);
    for (const [at, gap] of item.gaps.entries()) {
      const place = places[gap.name];
      if (!place) continue;
      place.className = "inline-block min-w-[3.5em] border-b-2 border-ink text-center text-[0.7em] text-graphite";
      place.textContent = String(at + 1);
    }
  }, [item]);
  return (
    <>
      <div ref={holder} className="rich leading-relaxed" />
      {item.gaps.map(
        (gap, at) =>
          gap.choices.length > 0 && (
            <p key={gap.name} className="mt-[0.4em] text-[0.8em] text-graphite">
              {at + 1}: {gap.choices.map((choice) => choice.text).join(", ")}
            </p>
          ),
      )}
    </>
  );
}
