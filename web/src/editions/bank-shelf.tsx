import { useDraggable } from "@dnd-kit/core";
import { CSS } from "@dnd-kit/utilities";
import { t } from "@lingui/core/macro";
import { useState } from "react";
import { Filters, NO_FILTERS } from "../bank/filters";
import { ItemFacts } from "../bank/item-line";
import { MoreButton, useItems } from "../bank/items-found";
import { Button, ButtonLink } from "../ui/button";
import type { Item } from "./layout";

export const FROM_BANK = t`from bank`;

/** The bank beside a test: found by typing, put in by drag or click. */
export function BankShelf({ used, onAdd }: { used: Set<string>; onAdd: (item: Item) => void }) {
  const [wanted, setWanted] = useState(NO_FILTERS);
  const items = useItems(wanted);
  const left = items.found?.items.filter((item) => !used.has(item.id)) ?? [];
  return (
    <>
      <Filters wanted={wanted} onChange={setWanted} />
      <ul>
        {left.map((item) => (
          <ShelfLine key={item.id} item={item} onAdd={() => onAdd(item)} />
        ))}
      </ul>
      {items.found && left.length === 0 && (
        <div className="py-4 text-graphite">
          <p className="mb-3">
            {items.found.total > 0
              ? t`All of these are on the paper.`
              : wanted === NO_FILTERS
                ? t`The bank is empty.`
                : t`No question fits.`}
          </p>
          <ButtonLink to="/bank">{t`Write a question`}</ButtonLink>
        </div>
      )}
      <MoreButton items={items} />
    </>
  );
}

function ShelfLine({ item, onAdd }: { item: Item; onAdd: () => void }) {
  const { listeners, setNodeRef, transform, isDragging } = useDraggable({
    id: `bank ${item.id}`,
    data: { [FROM_BANK]: item },
  });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform) }}
      className={`flex items-start gap-3 border-b border-hairline py-2 ${isDragging ? "relative z-20 bg-iris-wash" : ""}`}
    >
      <div className="min-w-0 flex-1 cursor-grab touch-none" {...listeners}>
        <p className="line-clamp-2 font-serif leading-snug">{item.words || t`A question without text`}</p>
        <ItemFacts item={item} />
      </div>
      <Button onClick={onAdd} aria-label={t`Put in: ${item.words}`}>{t`Put in`}</Button>
    </li>
  );
}
