import { useDroppable } from "@dnd-kit/core";
import { SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { t } from "@lingui/core/macro";
import { GripVertical } from "lucide-react";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { changedEntry, changedSection, type Item, type Layout, moved, type Row, rowsOf, without } from "./layout";
import type { OnPaper } from "./on-paper";
import { PageRow } from "./page-row";
import { QuestionRow } from "./question-row";
import { SectionRow } from "./section-row";

type Props = {
  layout: Layout;
  items: Map<string, Item>;
  onPaper: Map<string, OnPaper>;
  checks: Schemas["Check"][];
  onChange: (layout: Layout) => void;
  onTake: (id: string, what: string) => void;
};

/** The test in order: dragged by the handle, or moved with the arrow keys on it. */
export function PaperList({ layout, items, onPaper, checks, onChange, onTake }: Props) {
  const { setNodeRef, isOver } = useDroppable({ id: "paper" });
  const rows = rowsOf(layout);
  const alone = layout.sections.length === 1;
  let number = 0;
  return (
    <div ref={setNodeRef} className={`min-h-32 ${isOver ? "bg-iris-wash" : ""}`}>
      <SortableContext items={rows.map((row) => row.id)} strategy={verticalListSortingStrategy}>
        <ol>
          {rows.map((row, at) => {
            const what = nameOf(row, row.row === "entry" && row.entry.entry === "item" ? ++number : number);
            const problem = checks.find((check) => `section ${check.at}` === row.id || check.at === row.id);
            return (
              <Movable
                key={row.id}
                id={row.id}
                what={what}
                still={at === 0}
                head={row.row === "section"}
                onMove={(by) => onChange(moved(layout, at, Math.max(1, Math.min(rows.length - 1, at + by))))}
              >
                {row.row === "section" ? (
                  <SectionRow
                    section={row.section}
                    alone={alone}
                    first={at === 0}
                    problem={problem}
                    onChange={(part) => onChange(changedSection(layout, row.section.ref, part))}
                    onTake={() => onChange(without(layout, row.id))}
                  />
                ) : row.entry.entry === "item" ? (
                  <QuestionRow
                    number={number}
                    entry={row.entry}
                    item={items.get(row.entry.ref)}
                    onPaper={onPaper.get(row.entry.ref)}
                    problem={problem}
                    onChange={(entry) => onChange(changedEntry(layout, row.id, entry))}
                    onTake={() => onTake(row.id, t`Taken off the paper.`)}
                  />
                ) : (
                  <PageRow
                    page={row.entry.page}
                    onChange={(page) => onChange(changedEntry(layout, row.id, { entry: "page", page }))}
                    onTake={() => onTake(row.id, t`The page is taken out.`)}
                  />
                )}
              </Movable>
            );
          })}
        </ol>
      </SortableContext>
      {rows.length === 1 && layout.sections[0]?.draws.length === 0 && (
        <p className="py-6 text-graphite">{t`Empty so far. Drag questions over from the bank, or press “Put in”.`}</p>
      )}
    </div>
  );
}

const nameOf = (row: Row, number: number) =>
  row.row === "section" ? t`section` : row.entry.entry === "item" ? t`question ${number}` : t`page`;

type MovableProps = {
  id: string;
  what: string;
  /** The first head does not move. */
  still: boolean;
  head: boolean;
  onMove: (by: number) => void;
  children: ReactNode;
};

function Movable({ id, what, still, head, onMove, children }: MovableProps) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id,
    disabled: still,
  });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`flex items-start gap-2 bg-page ${head ? "" : "border-b border-hairline py-2"} ${isDragging ? "relative z-10 bg-iris-wash" : ""}`}
    >
      {!still && (
        <button
          type="button"
          ref={setActivatorNodeRef}
          className="mt-1.5 cursor-grab touch-none text-graphite"
          {...attributes}
          {...listeners}
          aria-label={t`Move ${what}; arrow keys up and down`}
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
      )}
      <div className="min-w-0 flex-1">{children}</div>
    </li>
  );
}
