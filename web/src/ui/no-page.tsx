import { t } from "@lingui/core/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useLocation } from "react-router";
import { Refused } from "../api/client";
import { Button, ButtonLink } from "./button";
import { Problem } from "./field";

/** Where somebody goes on whose page cannot be had: what the page belongs to, or the list it would be found in. */
function wayOn(path: string): { to: string; words: string } | null {
  const [room, id, within] = path.split("/").slice(1);
  if (room === "sittings" && id && within) return { to: `/sittings/${id}`, words: t`To the sitting` };
  if (room === "sittings" || room === "results") return { to: "/sittings", words: t`All sittings` };
  if (room === "tests" && id && within) return { to: `/tests/${id}`, words: t`To the test` };
  if (room === "tests") return { to: "/tests", words: t`All tests` };
  if (room === "classes") return { to: "/classes", words: t`All classes` };
  if (room === "records") return { to: "/records", words: t`All records` };
  if (room === "findings") return { to: "/findings", words: t`All findings` };
  if (room === "marking" || room === "piles" || room === "comparisons") {
    return { to: "/marking", words: t`What is to be marked` };
  }
  return null;
}

/** What stands in place of a page that cannot be shown: why, and a way on. */
export function NoPage({ error }: { error: unknown }) {
  const queries = useQueryClient();
  const { pathname } = useLocation();
  const way = wayOn(pathname);
  const unreached = error instanceof Refused && error.status === 0;
  const again = () =>
    void queries.refetchQueries({ type: "active", predicate: (query) => query.state.status === "error" });
  return (
    <div className="px-6">
      <Problem error={error} />
      {Boolean(error) &&
        (unreached ? (
          <Button variant="main" onClick={again}>{t`Try again`}</Button>
        ) : (
          way && <ButtonLink to={way.to}>{way.words}</ButtonLink>
        ))}
    </div>
  );
}
