import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { SittingTitle } from "../delivery/sitting-title";
import { Button, ButtonLink } from "../ui/button";
import { SmallSpread } from "../ui/charts/small-spread";
import { Problem, TextInput } from "../ui/field";
import { Empty, Page } from "../ui/split-page";
import { percent, questionInWords, whenOf } from "../ui/words";

const PAGE = 30;
/** With more than this one looks for a sitting by its words. */
const MANY = 8;

/** Every sitting that has answers: how it went, and the finding to read first. */
export function Findings() {
  const [search, setSearch] = useSearchParams();
  const typed = search.get("find") ?? "";
  const [count, setCount] = useState(PAGE);
  const all = useQuery({
    queryKey: ["findings", "all", typed, count],
    queryFn: () => read(api.GET("/api/v1/findings", { params: { query: { typed, count } } })),
    placeholderData: keepPreviousData,
    // Analyses that were never made, as after a restored back-up, come a few at a time.
    refetchInterval: (query) => (query.state.data?.lines.some((line) => line.still_to_make) ? 500 : false),
  });
  const { lines = [], total = 0 } = all.data ?? {};
  return (
    <Page title={t`Findings`} facts={total > MANY ? plural(total, { one: "# sitting", other: "# sittings" }) : ""}>
      <div className="px-6 py-4 lg:overflow-y-auto">
        <Problem error={all.error} />
        {all.data && total === 0 && !typed && (
          <Empty
            title={t`Nothing to find yet.`}
            action={<ButtonLink to="/sittings" variant="main">{t`Go to the sittings`}</ButtonLink>}
          >{t`Findings come from answers: open a sitting, and they grow as students hand in.`}</Empty>
        )}
        {(total > MANY || typed) && (
          <TextInput
            type="search"
            aria-label={t`Find a sitting`}
            placeholder={t`Find by test, class or code`}
            className="mb-2 max-w-md"
            value={typed}
            onChange={(event) => setSearch(event.target.value ? { find: event.target.value } : {}, { replace: true })}
          />
        )}
        {typed && all.data && total === 0 && <p className="py-3 text-graphite">{t`No sitting holds these words.`}</p>}
        <ul>
          {lines.map((line) => (
            <FindingsLine key={line.sitting.id} line={line} />
          ))}
        </ul>
        {total > lines.length && (
          <Button className="mt-4" onClick={() => setCount(count + PAGE)}>
            {t`Earlier ones, ${total - lines.length} more`}
          </Button>
        )}
      </div>
    </Page>
  );
}

function FindingsLine({ line }: { line: Schemas["SittingFindings"] }) {
  const { sitting } = line;
  return (
    <li className="grid grid-cols-[1fr_auto] items-center gap-x-5 gap-y-1 border-b border-hairline py-3 md:grid-cols-[5.5rem_minmax(0,1.1fr)_6.5rem_minmax(0,1.4fr)_auto]">
      <span className="text-sm text-graphite max-md:order-1">
        {sitting.closed_at ? whenOf(sitting.closed_at) : t`open`}
      </span>
      <div className="min-w-0 max-md:order-3 max-md:col-span-2">
        <Link to={`/findings/${sitting.id}`}>
          <SittingTitle sitting={sitting} />
        </Link>
        <p className="text-sm text-graphite">
          {line.still_to_make ? t`being worked out…` : t`${line.students} of ${sitting.seats} counted`}
          {sitting.working > 0 && t`, ${sitting.working} still at work`}
          {line.waiting > 0 && t`, ${plural(line.waiting, { one: "# answer", other: "# answers" })} to mark`}
        </p>
      </div>
      <div className="max-md:order-4 max-md:col-span-2">
        {line.spread.length > 0 && (
          <>
            <SmallSpread counts={line.spread} mean={line.mean} />
            <span className="text-xs text-graphite">{t`mean ${percent(line.mean)}`}</span>
          </>
        )}
      </div>
      <p className="min-w-0 wrap-anywhere max-md:order-5 max-md:col-span-2">
        {line.first ? (
          <Link to={`/findings/${sitting.id}?question=${line.first.number}`} className="hover:underline">
            <span className="font-serif">{line.first.heading}</span>{" "}
            <span className="text-sm text-graphite">
              {questionInWords(line.first.label)}
              {line.flagged > 1 &&
                t` · ${plural(line.flagged - 1, { one: "# more question", other: "# more questions" })} to look at`}
            </span>
          </Link>
        ) : (
          <span className="text-sm text-graphite" hidden={line.still_to_make}>
            {line.students === 0
              ? t`Nothing is counted yet.`
              : line.too_few
                ? t`Too few students to judge questions by.`
                : t`No question is more likely than not to have misled anybody.`}
          </span>
        )}
      </p>
      <span className="flex gap-2 max-md:order-2">
        <ButtonLink to={`/results/${sitting.id}`}>{t`Results`}</ButtonLink>
        <ButtonLink to={`/findings/${sitting.id}`}>{t`Read`}</ButtonLink>
      </span>
    </li>
  );
}
