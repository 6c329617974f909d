import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";

/** What somebody chose on a page, kept in its address, so that it is there again when it is opened, printed or sent. */
export function useInAddress(name: string, otherwise: string): [string, (value: string) => void] {
  const [search, setSearch] = useSearchParams();
  const named = search.get(name) ?? otherwise;
  // An address changes a moment later; a box that was ticked must not look unticked until then.
  const [now, setNow] = useState(named);
  useEffect(() => setNow(named), [named]);
  const set = (value: string) => {
    setNow(value);
    const kept = new URLSearchParams(search);
    kept.set(name, value);
    setSearch(kept, { replace: true });
  };
  return [now, set];
}
