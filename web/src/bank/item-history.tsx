import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { RefObject } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Disclosure } from "../ui/disclosure";
import { Problem } from "../ui/field";
import { dayOf, figure } from "../ui/words";
import { UsesTable } from "./uses-table";

type Props = { item: Schemas["ItemPage"]; revision: RefObject<number> };

/** How the question did in every sitting, and what it was in each edition. */
export function ItemHistory({ item, revision }: Props) {
  const client = useQueryClient();
  const path = { item_id: item.id };
  const found = useQuery({
    queryKey: ["item-history", item.id],
    queryFn: () => read(api.GET("/api/v1/items/{item_id}/history", { params: { path } })),
  });
  const putBack = useMutation({
    mutationFn: (number: number) =>
      read(
        api.POST("/api/v1/items/{item_id}/versions/{number}/put-back", {
          params: { path: { ...path, number }, query: { revision: revision.current } },
        }),
      ),
    onSuccess: () => location.reload(),
  });
  const { uses = [], versions = [] } = found.data ?? {};
  if (uses.length === 0 && versions.length === 0) return null;
  return (
    <Disclosure
      name={t`Its history`}
      remark={
        item.difficulty === null
          ? plural(versions.length, { one: "# version", other: "# versions" })
          : t`used ${plural(item.times_used, { one: "# time", other: "# times" })}, p ${figure(item.difficulty)}`
      }
      open={uses.length > 0}
    >
      {uses.length > 0 && <UsesTable uses={uses} />}
      <Problem error={putBack.error} />
      <ul className="mt-2 text-sm">
        {versions.map((version) => (
          <li key={version.number} className="flex items-baseline gap-3 py-0.5">
            <span className="text-graphite">{t`version ${version.number}`}</span>
            <span className="min-w-0 flex-1 truncate">
              {version.reason}, {dayOf(version.made_at)}
            </span>
            {version.same ? (
              <span className="text-graphite">{t`as it is now`}</span>
            ) : (
              <Button
                variant="quiet"
                onClick={() => {
                  // The steps of undo lead to a text that is about to be replaced.
                  sessionStorage.removeItem(`verso.steps.${item.id}`);
                  client.removeQueries({ queryKey: ["item", item.id] });
                  putBack.mutate(version.number);
                }}
              >{t`put it back`}</Button>
            )}
          </li>
        ))}
      </ul>
    </Disclosure>
  );
}
