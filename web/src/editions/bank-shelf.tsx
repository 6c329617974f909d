import { useDraggable } from "@dnd-kit/core";
import { CSS } from "@dnd-kit/utilities";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useItems } from "../bank/bank";
import { Button, ButtonLink } from "../ui/button";
import { TextInput } from "../ui/field";
import { Region } from "../ui/spread";
import { many } from "../ui/words";

type Item = Schemas["ItemPage"];
export const FROM_BANK = "from bank";

/** The bank beside a test: found by typing, put in by drag or click. */
export function BankShelf({ used, onAdd }: { used: Set<string>; onAdd: (item: Item) => void }) {
  const [search, setSearch] = useState("");
  const items = useItems(search, "");
  const left = items.data?.filter((item) => !used.has(item.id)) ?? [];
  return (
    <Region name="From the bank" remark={items.data && `${many(left.length, "question")} not on the paper`}>
      <div className="py-3">
        <TextInput
          type="search"
          aria-label="Find in the bank"
          placeholder="Find by words"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
      </div>
      <ul>
        {left.map((item) => (
          <ShelfLine key={item.id} item={item} onAdd={() => onAdd(item)} />
        ))}
      </ul>
      {items.data && left.length === 0 && (
        <div className="py-4 text-graphite">
          <p className="mb-3">
            {items.data.length > 0
              ? "All of these are on the paper."
              : search
                ? "No question holds these words."
                : "The bank is empty."}
          </p>
          <ButtonLink to="/bank">Write a question</ButtonLink>
        </div>
      )}
    </Region>
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
        <p className="font-serif leading-snug">{item.content.stem || "A question without text"}</p>
        <p className="text-sm text-graphite">{item.skills.join(", ") || "no skill"}</p>
      </div>
      <Button onClick={onAdd} aria-label={`Put in: ${item.content.stem}`}>
        Put in
      </Button>
    </li>
  );
}
