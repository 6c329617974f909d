import { useSearchParams } from "react-router";

/** What somebody chose on a page, kept in its address, so that it is there again when it is opened, printed or sent. */
export function useInAddress(name: string, otherwise: string): [string, (value: string) => void] {
  const [search, setSearch] = useSearchParams();
  const set = (value: string) => {
    const kept = new URLSearchParams(search);
    kept.set(name, value);
    setSearch(kept, { replace: true });
  };
  return [search.get(name) ?? otherwise, set];
}
