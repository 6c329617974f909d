import { t } from "@lingui/core/macro";
import { useInfiniteQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { CompactSelect } from "../ui/compact-select";
import { Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { Page } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { Tools } from "../ui/tools";
import { whenOf } from "../ui/words";

type Event = Schemas["SecurityEventLine"];
const PAGE = 100;

const KINDS: Record<string, string> = {
  "signed in": t`signed in`,
  "sign-in failed": t`wrong password`,
  "signed out": t`signed out`,
  "sign-in ended": t`ended a sign-in`,
  "password changed": t`changed the password`,
  "second factor on": t`turned the second factor on`,
  "second factor off": t`turned the second factor off`,
  "passkey added": t`made a passkey`,
  "passkey removed": t`took a passkey out`,
  invited: t`invited`,
  "code made": t`made a code`,
  "code used": t`used a code`,
  "role changed": t`changed a role`,
  deactivated: t`deactivated`,
  restored: t`restored`,
  "handed over": t`handed work over`,
  saw: t`saw`,
  "took out": t`took a file out`,
  released: t`released or withdrew results`,
  erased: t`erased`,
  deleted: t`deleted`,
};
const GROUPS: Record<string, string> = {
  "": t`everything`,
  "signed in,sign-in failed,signed out,sign-in ended": t`sign-ins`,
  "saw,took out": t`who saw what, and files`,
  released: t`results released`,
  "invited,code made,code used,role changed,deactivated,restored,handed over,password changed,second factor on,second factor off,passkey added,passkey removed": t`accounts`,
  "erased,deleted": t`erased and deleted`,
};
const DETAILS: Record<string, string> = {
  invite: t`invitation`,
  recover: t`new password`,
  teacher: t`teacher`,
  admin: t`administrator`,
  mail: t`by mail`,
  "shared device": t`shared device`,
};
const THINGS: Record<string, string> = {
  teacher: t`account`,
  student: t`student`,
  seat: t`seat`,
  sitting: t`sitting`,
  class: t`class`,
};

/** Who signed in and who could not, who saw whose data, what was taken out and released. */
export function SecurityLogPage() {
  const [kinds, setKinds] = useInAddress("kinds", "");
  const log = useInfiniteQuery({
    queryKey: ["security-log", kinds],
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      read(
        api.GET("/api/v1/security-log", { params: { query: { kinds, ...(pageParam > 0 && { before: pageParam }) } } }),
      ),
    getNextPageParam: (last: Event[]) => (last.length < PAGE ? undefined : last.at(-1)?.id),
  });
  const events = log.data?.pages.flat() ?? [];
  return (
    <Page
      title={t`Security log`}
      facts={t`Kept for 400 days. Nobody can change a line, not even an administrator.`}
      actions={<ButtonLink to="/people">{t`People of the school`}</ButtonLink>}
    >
      <div className="min-h-0 flex-1 px-6 py-4 lg:overflow-y-auto">
        <Tools>
          <CompactSelect name={t`Show`} value={kinds} of={GROUPS} onChange={setKinds} />
        </Tools>
        {events.length === 0 ? (
          <>
            <Problem error={log.error} />
            {log.isSuccess && <p className="text-graphite">{t`Nothing of that kind is in the log.`}</p>}
          </>
        ) : (
          <div className="relative overflow-x-auto">
            <Table
              caption={t`Security log`}
              heads={[
                { label: t`When` },
                { label: t`Who` },
                { label: t`What` },
                { label: t`Of what` },
                { label: t`More` },
              ]}
            >
              {events.map((event) => (
                <Row key={event.id} selected={event.kind === "sign-in failed"}>
                  <Cell>{whenOf(event.at)}</Cell>
                  <Cell>{event.actor || <span className="text-graphite">{t`nobody signed in`}</span>}</Cell>
                  <Cell>{KINDS[event.kind] ?? event.kind}</Cell>
                  <Cell>
                    <span className="wrap-anywhere">{subjectOf(event)}</span>
                  </Cell>
                  <Cell>
                    <span className="text-sm break-all text-graphite">{DETAILS[event.detail] ?? event.detail}</span>
                  </Cell>
                </Row>
              ))}
            </Table>
          </div>
        )}
        {log.hasNextPage && (
          <Button disabled={log.isFetchingNextPage} onClick={() => log.fetchNextPage()}>{t`Show earlier ones`}</Button>
        )}
      </div>
    </Page>
  );
}

function subjectOf(event: Event): string {
  const { subject, actor, kind } = event;
  const [thing = "", number = ""] = subject.split(" ");
  if (thing === "teacher" && actor && kind.startsWith("sign")) return "";
  return subject && (event.about || `${THINGS[thing] ?? thing} ${number}`);
}
