import { t } from "@lingui/core/macro";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { Button } from "./button";
import { isLost } from "./way-back";

/** Ticks beside the lines of a list, for what is done with several at once. They stand there only while they are wanted. */
export function useSeveral<T>() {
  const [ticked, setTicked] = useState<ReadonlySet<T> | null>(null);
  const [wasOn, setWasOn] = useState(false);
  return {
    /** Whether the ticks stood there before: the button that brought them has the focus again then. */
    wasOn,
    on: ticked !== null,
    ticked: [...(ticked ?? [])],
    has: (one: T) => ticked?.has(one) ?? false,
    start: () => {
      setTicked(new Set());
      setWasOn(true);
    },
    end: () => setTicked(null),
    all: (every: readonly T[]) => setTicked(new Set(every)),
    toggle: (one: T) =>
      setTicked((some) => {
        const next = new Set(some);
        if (!next.delete(one)) next.add(one);
        return next;
      }),
  };
}

export type Several<T> = ReturnType<typeof useSeveral<T>>;

export function SeveralButton<T>({ several }: { several: Several<T> }) {
  return several.on ? null : <Button autoFocus={several.wasOn} onClick={several.start}>{t`Several at once`}</Button>;
}

type BarProps<T> = { several: Several<T>; every: readonly T[]; children: ReactNode };

/** How many are ticked, and what can be done with them. */
export function SeveralBar<T>({ several, every, children }: BarProps<T>) {
  const bar = useRef<HTMLDivElement>(null);
  // The button that was pressed is gone while the ticks are there.
  useEffect(() => {
    if (several.on && isLost()) bar.current?.querySelector("button")?.focus();
  }, [several.on]);
  if (!several.on) return null;
  return (
    <div
      ref={bar}
      role="toolbar"
      aria-label={t`Several at once`}
      className="sticky top-0 z-10 mb-3 flex flex-wrap items-center gap-3 border-b border-edge bg-page py-2"
    >
      <span role="status">{t`${several.ticked.length} ticked`}</span>
      <Button onClick={() => several.all(every)}>{t`Tick all`}</Button>
      {children}
      <Button variant="quiet" onClick={several.end}>{t`Done`}</Button>
    </div>
  );
}

export function Tick<T>({ several, one, name }: { several: Several<T>; one: T; name: string }) {
  if (!several.on) return null;
  return (
    <label className="flex size-9 shrink-0 cursor-pointer items-center justify-center">
      <input
        type="checkbox"
        aria-label={name}
        className="size-4 accent-[var(--ink)]"
        checked={several.has(one)}
        onChange={() => several.toggle(one)}
      />
    </label>
  );
}
