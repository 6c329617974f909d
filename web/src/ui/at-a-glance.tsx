import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { SmallSpread } from "./charts/small-spread";
import { dayOf, momentOf, percent } from "./words";

export type Glance = Schemas["OverviewLine"];

/** What is known of each class, or of each test, before it is opened. Analyses still to be made come as it is asked again. */
export function useGlance(of: "classes" | "tests"): Map<number, Glance> {
  const page = useQuery({
    queryKey: ["sittings", "overview", of],
    queryFn: () => read(of === "classes" ? api.GET("/api/v1/overviews/classes") : api.GET("/api/v1/overviews/tests")),
    refetchInterval: (query) => (query.state.data?.still_to_make ? 500 : false),
  });
  return new Map(page.data?.lines.map((line) => [line.id, line]));
}

/** How each sitting that is over went, by its number. */
export function useSittingGlance(): Map<number, Schemas["SittingGlanceLine"]> {
  const page = useQuery({
    queryKey: ["sittings", "overview", "sittings"],
    queryFn: () => read(api.GET("/api/v1/overviews/sittings")),
    refetchInterval: (query) => (query.state.data?.still_to_make ? 500 : false),
  });
  return new Map(page.data?.lines.map((line) => [line.sitting, line]));
}

/** How the last sitting went: its picture, and what wants doing about it. `of`: what the list is of. */
export function LastSitting({ line, of }: { line: Glance | undefined; of: "classes" | "tests" }) {
  if (!line?.last)
    return <p className="text-sm text-graphite">{line && of === "classes" ? t`No sitting is over.` : ""}</p>;
  const { last } = line;
  return (
    <div className="flex items-center gap-4">
      <div className="w-26 shrink-0">
        {line.spread.length > 0 && <SmallSpread counts={line.spread} mean={line.mean} />}
      </div>
      <div className="min-w-0 text-sm wrap-anywhere">
        <Link to={`/findings/${last.id}`} className="hover:underline">
          {of === "classes" ? last.title : last.class_name}
        </Link>
        <span className="text-graphite">{last.day && t`, ${dayOf(last.day)}`}</span>
        <p className="text-graphite">
          {[
            line.mean !== null && t`mean ${percent(line.mean)}`,
            line.absent > 0 && plural(line.absent, { one: "# not there", other: "# not there" }),
          ]
            .filter(Boolean)
            .join(", ")}
          {line.waiting > 0 && (
            <Waiting to={line.may_mark ? `/marking/${last.id}` : null}>
              {plural(line.waiting, { one: "# answer to mark", other: "# answers to mark" })}
            </Waiting>
          )}
        </p>
      </div>
    </div>
  );
}

/** Leads to the marking whoever may mark; a colleague who may only look reads how much there is. */
function Waiting({ to, children }: { to: string | null; children: string }) {
  const look = "ms-2 inline-block text-ochre";
  return to ? (
    <Link to={to} className={`${look} hover:underline`}>
      {children}
    </Link>
  ) : (
    <span className={look}>{children}</span>
  );
}

/** What is on now, and what comes next. `of`: what the list is of. */
export function OpenAndNext({ line, of }: { line: Glance | undefined; of: "classes" | "tests" }) {
  const named = (sitting: Schemas["SittingNamed"]) => (of === "classes" ? sitting.title : sitting.class_name);
  return (
    <>
      {line?.open_now.map((sitting) => (
        <p key={sitting.id} className="py-0.5 text-sm">
          <Link to={`/sittings/${sitting.id}`} className="text-iris hover:underline">
            {t`Not closed yet: ${named(sitting)}`}
          </Link>
        </p>
      ))}
      {line?.next && (
        <p className="py-0.5 text-sm text-graphite">
          <Link to={`/sittings/${line.next.id}`} className="hover:underline">
            {t`Next: ${named(line.next)}, ${momentOf(line.next.day ?? "")}`}
          </Link>
        </p>
      )}
    </>
  );
}

const STEP = 14;
const HEIGHT = 40;

/** The means of the latest sittings in the order of time, as a line from nothing to all marks. Tests differ: it shows
 *  where a class stood, not that it grew. */
export function MeansOverTime({ means }: { means: Glance["means"] }) {
  if (means.length < 2) return null;
  const width = (means.length - 1) * STEP + 8;
  const points = means.map(({ mean }, at) => [4 + at * STEP, 3 + (1 - mean) * (HEIGHT - 6)] as const);
  const from = percent(means[0]?.mean ?? null);
  const to = percent(means.at(-1)?.mean ?? null);
  return (
    <svg
      viewBox={`0 0 ${width} ${HEIGHT}`}
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={t`Means of the latest ${means.length} sittings, from ${from} to ${to}`}
    >
      <line x1={0} x2={width} y1={HEIGHT - 3} y2={HEIGHT - 3} stroke="var(--hairline)" />
      <line x1={0} x2={width} y1={3} y2={3} stroke="var(--hairline)" />
      <polyline points={points.map((point) => point.join(",")).join(" ")} fill="none" stroke="var(--graphite)" />
      {points.map(([x, y], at) => (
        <circle
          key={means[at]?.sitting.id}
          cx={x}
          cy={y}
          r={2.4}
          fill={at === points.length - 1 ? "var(--iris)" : "var(--graphite)"}
        />
      ))}
    </svg>
  );
}
