import { t } from "@lingui/core/macro";
import { useRouteError } from "react-router";
import { ButtonLink } from "../ui/button";
import { Empty, Page } from "../ui/split-page";

/** A wrong address, or a screen that failed: says so, and leads back. */
export function Lost() {
  const error = useRouteError();
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
