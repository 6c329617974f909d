import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Field, Problem, TextInput } from "../ui/field";
import { Empty, Line, Page, Region, SplitPage } from "../ui/split-page";
import { whenOf } from "../ui/words";
import { DropScans } from "./drop-scans";
import { ScanAnswer, unfinished } from "./scan-answer";

const FROM: Record<Schemas["ScanLine"]["source"], string> = {
  upload: "",
  folder: t`from the folder`,
  mail: t`by mail`,
  rehearsal: t`rehearsal`,
};

/** Scans as they come, and what became of the chosen one. */
export function Inbox() {
  const scanId = useParams().scanId;
  const navigate = useNavigate();
  const inbox = useQuery({
    queryKey: ["scans"],
    queryFn: () => read(api.GET("/api/v1/scans")),
    refetchInterval: ({ state }) => (state.data?.scans.some(unfinished) ? 700 : 5000),
  });
  const scans = inbox.data?.scans ?? [];
  const chosen = scanId ?? scans[0]?.id;
  return (
    <Page title={t`Scan inbox`} facts={t`answer sheets from the copier or a phone`}>
      <SplitPage
        split="even"
        names={{ left: t`Scans`, right: t`What became of it` }}
        left={
          <>
            <Problem error={inbox.error} />
            <DropScans onTaken={(taken) => taken[0] && navigate(`/sittings/scans/${taken[0].id}`)} />
            {scans.map((scan) => (
              <Line
                key={scan.id}
                margin={whenOf(scan.arrived_at)}
                action={
                  <ButtonLink to={`/sittings/scans/${scan.id}`} aria-current={scan.id === chosen}>
                    {scan.id === chosen ? t`Shown` : t`Show`}
                  </ButtonLink>
                }
              >
                <span className="font-serif">{scan.name}</span>
                <span className="ms-2 text-sm text-graphite">{FROM[scan.source]}</span>
                <p className={`text-sm ${scan.state === "refused" ? "text-clay" : "text-graphite"}`}>{words(scan)}</p>
              </Line>
            ))}
            {inbox.data && <OtherWays inbox={inbox.data} />}
          </>
        }
        right={
          chosen ? (
            <ScanAnswer key={chosen} scanId={chosen} />
          ) : (
            <Empty
              title={t`No scan yet.`}
              action={<ButtonLink to="/sittings" variant="main">{t`Go to the sittings`}</ButtonLink>}
            >{t`Print answer sheets from a sitting, let the class fill them in, scan them in one pile, and drop the file here. Within seconds it says what was read, what is doubtful, and who is missing.`}</Empty>
          )
        }
      />
    </Page>
  );
}

function words(scan: Schemas["ScanLine"]): string {
  if (scan.state === "refused") return `◆ ${scan.refusal}`;
  if (scan.state === "read") return scan.line;
  if (scan.state === "cancelled") return t`stopped`;
  return scan.page_count ? t`reading, ${scan.pages_read} of ${scan.page_count}` : t`waiting its turn`;
}

function OtherWays({ inbox }: { inbox: Schemas["Inbox"] }) {
  const client = useQueryClient();
  const [email, setEmail] = useState(inbox.mail);
  const keep = useMutation({
    mutationFn: () => read(api.PUT("/api/v1/me/email", { body: { email } })),
    onSuccess: () => changed(client, "scans"),
  });
  return (
    <div className="mt-8">
      <Region name={t`Other ways in`}>
        <p className="py-3">
          <Trans>
            The copier can save into your folder: <span className="text-graphite wrap-anywhere">{inbox.folder}</span>
          </Trans>
        </p>
        <form
          className="max-w-md"
          onSubmit={(event) => {
            event.preventDefault();
            keep.mutate();
          }}
        >
          <Field label={t`Your mail address`} hint={t`Scans mailed from it are read, and the answer is mailed back.`}>
            {(id) => (
              <div className="flex gap-3">
                <TextInput id={id} type="email" value={email} onChange={(event) => setEmail(event.target.value)} />
                {email !== inbox.mail && <Button type="submit">{t`Keep`}</Button>}
              </div>
            )}
          </Field>
          <Problem error={keep.error} />
        </form>
      </Region>
    </div>
  );
}
