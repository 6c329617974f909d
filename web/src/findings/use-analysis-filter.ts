import { useSearchParams } from "react-router";

type Share = 27 | 33 | 50;
export type Scope = { share: Share; without: string[]; out: number[]; also: number[] };
export const SHARES: Share[] = [27, 33, 50];
const PARTS = ["share", "without", "out", "also"] as const;

const listed = (text: string | null) => (text ?? "").split(",").filter(Boolean);
const numbers = (text: string | null) => listed(text).map(Number).filter(Number.isSafeInteger);

export function readScope(search: URLSearchParams): Scope {
  const share = Number(search.get("share")) as Share;
  return {
    share: SHARES.includes(share) ? share : 27,
    without: listed(search.get("without")),
    out: numbers(search.get("out")),
    also: numbers(search.get("also")),
  };
}

/** Only what differs from the sitting as it is, so that an address stays short. */
export function scopeQuery(scope: Scope): Partial<Record<(typeof PARTS)[number], string>> {
  return {
    ...(scope.share !== 27 && { share: String(scope.share) }),
    ...(scope.without.length > 0 && { without: scope.without.join(",") }),
    ...(scope.out.length > 0 && { out: scope.out.join(",") }),
    ...(scope.also.length > 0 && { also: scope.also.join(",") }),
  };
}

/** How the figures are looked at. It stands in the address, so that it can be kept, printed and sent to a colleague. */
export function useScope() {
  const [search, setSearch] = useSearchParams();
  const scope = readScope(search);
  const set = (next: Scope) => {
    const kept = new URLSearchParams(search);
    for (const part of PARTS) kept.delete(part);
    for (const [part, value] of Object.entries(scopeQuery(next))) kept.set(part, value);
    setSearch(kept, { replace: true });
  };
  const { share, ...parts } = scopeQuery(scope);
  return {
    scope,
    set,
    /** As the API takes it. */
    query: { ...parts, ...(share && { share: scope.share }) },
    key: JSON.stringify(scopeQuery(scope)),
    changed: Object.keys(scopeQuery(scope)).length > 0,
    back: () => set({ share: 27, without: [], out: [], also: [] }),
  };
}

export const toggled = <T>(list: T[], one: T): T[] =>
  list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
