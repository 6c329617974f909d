import { t } from "@lingui/core/macro";
import { useEffect } from "react";
import { useRouteError } from "react-router";
import { isReached } from "../api/reached";
import { Button, ButtonLink } from "../ui/button";
import { Empty, Page } from "../ui/split-page";

/** What browsers say when the part of the program that draws a page could not be fetched. */
const NOT_FETCHED = /dynamically imported module|importing a module script failed/i;
const LOOK_AGAIN = 4_000;

/** A wrong address, or a screen that failed: says so, and leads back. */
export function Lost() {
  const error = useRouteError();
  if (error instanceof Error && NOT_FETCHED.test(error.message)) return <Unreached />;
  return (
    <Page title={error ? t`Not shown` : t`Not found`}>
      <div className="px-6">
        <Empty
          title={error ? t`This screen could not be shown.` : t`There is nothing at this address.`}
          action={<ButtonLink to="/" variant="main" reloadDocument>{t`Back to the desk`}</ButtonLink>}
        >
          {error
            ? t`What you had changed before is kept. Load the page again to go on.`
            : t`It may have been removed, or the link is incomplete.`}
        </Empty>
      </div>
    </Page>
  );
}

/** A page that was never opened before cannot be shown without a connection; it comes by itself when there is one. */
function Unreached() {
  const look = async () => {
    if (await isReached()) location.reload();
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it looks for does not change
  useEffect(() => {
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, []);
  return (
    <Page title={t`No connection`}>
      <div className="px-6">
        <Empty
          title={t`The school's server cannot be reached just now.`}
          action={<Button variant="main" onClick={look}>{t`Try again`}</Button>}
        >{t`This page comes by itself as soon as it can. What you had changed before is kept.`}</Empty>
      </div>
    </Page>
  );
}
