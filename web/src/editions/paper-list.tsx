import { useDroppable } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { GripVertical } from "lucide-react";
import type { Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";

type Item = Schemas["ItemPage"];
type Props = { items: Item[]; onTake: (item: Item) => void; onMove: (from: number, to: number) => void };

/** The questions of a test in order: dragged by the handle, or moved with the arrow keys on it. */
export function PaperList({ items, onTake, onMove }: Props) {
  const { setNodeRef, isOver } = useDroppable({ id: "paper" });
  return (
    <div ref={setNodeRef} className={`min-h-32 ${isOver && items.length === 0 ? "bg-iris-wash" : ""}`}>
      {items.length === 0 && (
        <p className="py-6 text-graphite">Empty so far. Drag questions over from the bank, or press “Put in”.</p>
      )}
      <SortableContext items={items.map((item) => item.id)} strategy={verticalListSortingStrategy}>
        <ol>
          {items.map((item, place) => (
            <PaperLine
              key={item.id}
              item={item}
              place={place}
              onTake={() => onTake(item)}
              onMove={(by) => onMove(place, Math.max(0, Math.min(items.length - 1, place + by)))}
            />
          ))}
        </ol>
      </SortableContext>
    </div>
  );
}

function PaperLine({
  item,
  place,
  onTake,
  onMove,
}: {
  item: Item;
  place: number;
  onTake: () => void;
  onMove: (by: number) => void;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: item.id,
  });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`flex items-start gap-2 border-b border-hairline bg-page py-2.5 ${isDragging ? "relative z-10 bg-iris-wash" : ""}`}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        className="mt-1 cursor-grab touch-none text-graphite"
        {...attributes}
        {...listeners}
        aria-label={`Move question ${place + 1}; arrow keys up and down`}
        onKeyDown={(event) => {
          const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
          if (by) {
            event.preventDefault();
            onMove(by);
          }
        }}
      >
        <GripVertical className="size-4" aria-hidden="true" />
      </button>
      <span className="w-7 shrink-0 text-right font-serif text-lg font-semibold">{place + 1}</span>
      <div className="min-w-0 flex-1 pl-1">
        <p className="font-serif leading-snug">{item.content.stem || "A question without text"}</p>
        <p className="text-sm text-graphite">
          {item.skills.join(", ")}
          {item.problems.length > 0 && <span className="text-ochre"> · ◐ {item.problems[0]}</span>}
        </p>
      </div>
      <ButtonLink look="quiet" to={`/bank/${item.id}`} aria-label={`Open question ${place + 1}`}>
        open
      </ButtonLink>
      <Button look="quiet" onClick={onTake} aria-label={`Take off question ${place + 1}`}>
        take off
      </Button>
    </li>
  );
}
