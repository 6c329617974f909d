import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";
import { ProgressBar } from "../ui/progress-bar";
import { Region } from "../ui/split-page";
import { ToSettle } from "./queries-page";

const LOOK_AGAIN = 500;
const UNFINISHED = ["waiting", "reading"];
export const unfinished = (scan: { state: string }) => UNFINISHED.includes(scan.state);

/** What became of a scan: while it is read, how far; then what was read, what is doubtful, missing, foreign. */
export function ScanAnswer({ scanId }: { scanId: string }) {
  const client = useQueryClient();
  const path = { path: { scan_id: scanId } };
  const scan = useQuery({
    queryKey: ["scan", scanId],
    queryFn: () => read(api.GET("/api/v1/scans/{scan_id}", { params: path })),
    refetchInterval: ({ state }) => (state.data && !unfinished(state.data) ? false : LOOK_AGAIN),
  });
  const refresh = () => {
    void changed(client, "scans");
  };
  const cancel = useMutation({
    mutationFn: () => read(api.POST("/api/v1/scans/{scan_id}/cancel", { params: path })),
    onSettled: refresh,
  });
  const again = useMutation({
    mutationFn: () => read(api.POST("/api/v1/scans/{scan_id}/again", { params: path })),
    onSettled: refresh,
  });
  const found = scan.data;
  if (!found) return <Problem error={scan.error} />;
  return (
    <>
      <h2 className="mb-3 font-serif text-2xl font-semibold wrap-anywhere">{found.name}</h2>
      <Problem error={cancel.error ?? again.error} />
      {unfinished(found) && (
        <div className="flex items-center gap-4">
          <span className="shrink-0 text-graphite" aria-live="polite">
            {found.page_count ? t`page ${found.pages_read} of ${found.page_count}` : t`opening it`}
          </span>
          <ProgressBar done={found.pages_read} of={found.page_count} label={t`pages read`} />
          <Button onClick={() => cancel.mutate()}>{t`Stop`}</Button>
        </div>
      )}
      {found.state === "cancelled" && (
        <p className="flex flex-wrap items-center gap-3">
          {t`Stopped after ${plural(found.pages_read, { one: "# page", other: "# pages" })}; none of it counts yet.`}
          <Button variant="main" onClick={() => again.mutate()}>{t`Go on reading`}</Button>
        </p>
      )}
      {found.state === "refused" && (
        <p className="border-s-2 border-clay bg-clay-wash px-3 py-2">
          <span className="text-clay">◆ {found.refusal}</span> {t`Nothing was read.`}
        </p>
      )}
      {found.state === "read" && <Told scan={found} />}
    </>
  );
}

function Told({ scan }: { scan: Schemas["ScanPage"] }) {
  const { told } = scan;
  return (
    <>
      <p className="mb-1 text-lg">
        <Trans>
          <strong>{plural(told.sheets, { one: "# page", other: "# pages" })}</strong> clear
        </Trans>
        {told.places > 0 && t`, ${plural(told.places, { one: "# place", other: "# places" })} in doubt`}
        {told.by_hand > 0 &&
          t`, ${plural(told.by_hand, { one: "# handwritten answer", other: "# handwritten answers" })} to type`}
        {told.missing.length > 0 &&
          t`, ${plural(told.missing.length, { one: "# student", other: "# students" })} missing`}
        .
      </p>
      {told.by_sitting.map((line) => (
        <p key={line} className="text-graphite">
          {line}
        </p>
      ))}
      <div className="mt-5">
        {scan.sittings.map((sitting) => (
          <ToSettle key={sitting} count={told.places + told.by_hand + told.asked.length} sitting={sitting} />
        ))}
      </div>
      <Lines name={t`In doubt`} lines={told.doubtful} sign="◐" />
      <Lines name={t`To decide about`} lines={told.asked} sign="◐" />
      <Lines name={t`Missing`} lines={told.missing} sign="○" />
      <Lines name={t`Nothing filled in`} lines={told.empty} sign="○" />
      <Lines name={t`Could not be opened`} lines={told.damaged} sign="◆" />
      <Lines
        name={t`Foreign pages`}
        sign="○"
        lines={told.foreign.map((page) => t`page ${page}: of another test, or none of ours`)}
      />
      {told.blank.length > 0 && <p className="text-sm text-graphite">{t`Blank: ${told.blank.join(", ")}`}</p>}
      {told.replaced > 0 && (
        <p className="text-sm text-graphite">
          {t`${plural(told.replaced, { one: "# page", other: "# pages" })} laid aside: the same came before, or another one was used.`}
        </p>
      )}
    </>
  );
}

function Lines({ name, lines, sign }: { name: string; lines: string[]; sign: string }) {
  if (lines.length === 0) return null;
  return (
    <Region name={`${name}: ${lines.length}`}>
      <ul className="columns-1 gap-8 pt-2 sm:columns-2">
        {lines.map((line) => (
          <li key={line} className="break-inside-avoid py-0.5">
            <span className="me-2 text-ochre">{sign}</span>
            {line}
          </li>
        ))}
      </ul>
    </Region>
  );
}
