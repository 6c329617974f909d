import { t } from "@lingui/core/macro";
import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import type { Wanted } from "./filters";

const STEP = 60;

export const manyItems = (ids: string[], part: Partial<Schemas["ManyItems"]> = {}): Schemas["ManyItems"] => ({
  ids,
  add_skills: [],
  take_skills: [],
  add_keywords: [],
  ...part,
});

/** Questions that fit, a page at a time, however many there are. */
export function useItems(wanted: Wanted) {
  const query = useInfiniteQuery({
    queryKey: ["items", wanted],
    queryFn: ({ pageParam }) =>
      read(api.GET("/api/v1/items", { params: { query: { ...wanted, most: STEP, start: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const shown = pages.reduce((sum, page) => sum + page.items.length, 0);
      return last.items.length > 0 && shown < last.total ? shown : undefined;
    },
    placeholderData: keepPreviousData,
  });
  const pages = query.data?.pages;
  const found = pages && { total: pages[0]?.total ?? 0, items: pages.flatMap((page) => page.items) };
  return { found, error: query.error, more: query.hasNextPage ? () => query.fetchNextPage() : null };
}

/** The rest of a long list, one press away. */
export function MoreButton({ items }: { items: ReturnType<typeof useItems> }) {
  const { found, more } = items;
  if (!found || !more) return null;
  return (
    <Button className="mt-3" onClick={more}>
      {t`Show ${Math.min(STEP, found.total - found.items.length)} more of ${found.total}`}
    </Button>
  );
}
