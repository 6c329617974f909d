import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, read } from "../api/client";
import { SittingTitle } from "../delivery/sitting-title";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Empty, Line, Page } from "../ui/split-page";
import { whenOf } from "../ui/words";

/** Every sitting that has answers to look at. */
export function Findings() {
  const sittings = useQuery({ queryKey: ["sittings"], queryFn: () => read(api.GET("/api/v1/sittings")) });
  const begun = sittings.data?.filter((sitting) => sitting.opened_at);
  return (
    <Page title={t`Findings`}>
      <div className="max-w-5xl px-6 py-4">
        <Problem error={sittings.error} />
        {begun?.length === 0 && (
          <Empty
            title={t`Nothing to find yet.`}
            action={<ButtonLink to="/sittings" variant="main">{t`Go to the sittings`}</ButtonLink>}
          >{t`Findings come from answers: open a sitting, and they grow as students hand in.`}</Empty>
        )}
        {begun?.map((sitting) => (
          <Line
            key={sitting.id}
            margin={sitting.closed_at ? whenOf(sitting.closed_at) : t`open`}
            action={<ButtonLink to={`/findings/${sitting.id}`}>{t`Read`}</ButtonLink>}
          >
            <Link to={`/findings/${sitting.id}`}>
              <SittingTitle sitting={sitting} />
            </Link>
            <p className="text-sm text-graphite">
              {t`${sitting.handed_in} of ${sitting.seats} counted`}
              {sitting.working > 0 && t`, ${sitting.working} still at work`}
            </p>
          </Line>
        ))}
      </div>
    </Page>
  );
}
