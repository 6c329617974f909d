import { t } from "@lingui/core/macro";
import { useParams } from "react-router";
import { useSitting } from "../delivery/use-sitting";
import { WatchedSitting } from "../delivery/watched-sitting";
import { MarksPage } from "../responses/marks-page";
import { Console } from "../room/console";
import { NoPage } from "../ui/no-page";
import { Page } from "../ui/split-page";

/** A sitting by its address: each way of giving a test has a page of its own. */
export function SittingPage() {
  const sittingId = Number(useParams().sittingId);
  const sitting = useSitting(sittingId);
  const { page } = sitting;
  if (!page)
    return (
      <Page title={t`Sitting`}>
        <NoPage error={sitting.problem} />
      </Page>
    );
  if (page.marks_only) return <MarksPage sittingId={sittingId} />;
  if (page.in_the_room) return <Console sittingId={sittingId} />;
  return <WatchedSitting sitting={sitting} page={page} />;
}
