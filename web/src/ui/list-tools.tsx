import { t } from "@lingui/core/macro";
import { type ReactNode, useState } from "react";
import { useSearchParams } from "react-router";
import { CompactSelect } from "./compact-select";
import { TextInput } from "./field";
import { folded } from "./folded";

/** With more than this one looks for an entry by its words. */
export const MANY = 8;

/** How somebody likes a list sorted or narrowed: it is so again when they come back, in this browser. */
export function useListChoice<T extends string>(list: string, otherwise: T, of: readonly T[]): [T, (one: T) => void] {
  const key = `verso:list:${list}`;
  const [now, setNow] = useState<T>(() => of.find((one) => one === localStorage.getItem(key)) ?? otherwise);
  const choose = (one: T) => {
    localStorage.setItem(key, one);
    setNow(one);
  };
  return [now, choose];
}

/** What was typed to find an entry: it stays in the address, and an entry is held when it has every word of it. */
export function useTyped() {
  const [search, setSearch] = useSearchParams();
  const typed = search.get("find") ?? "";
  const words = folded(typed).split(/\s+/).filter(Boolean);
  const holds = (says: string) => words.every((word) => folded(says).includes(word));
  const type = (text: string) => setSearch(text ? { find: text } : {}, { replace: true });
  return { typed, type, holds };
}

type Props = {
  name: string;
  hint: string;
  typed: string;
  onType: (text: string) => void;
  /** How many there are; a short list needs no search. */
  count: number;
  children?: ReactNode;
};

/** Above a list: a search where it is long, and beside it what else narrows or sorts it. */
export function ListTools({ name, hint, typed, onType, count, children }: Props) {
  const long = count > MANY || typed !== "";
  if (!long && !children) return null;
  return (
    <div className="mb-4 flex flex-wrap items-center gap-3" data-screen-only>
      {long && (
        <TextInput
          type="search"
          aria-label={name}
          placeholder={hint}
          className="max-w-md flex-1 basis-60"
          value={typed}
          onChange={(event) => onType(event.target.value)}
        />
      )}
      {children}
    </div>
  );
}

type SortProps<T extends string> = { value: T; of: Record<T, string>; onChange: (one: T) => void };

export function SortedBy<T extends string>({ value, of, onChange }: SortProps<T>) {
  return <CompactSelect name={t`Sorted by`} value={value} of={of} onChange={(one) => onChange(one as T)} />;
}
