import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useCallback, useEffect, useState } from "react";
import { ResultPaper, type StudentResult } from "../feedback/result-paper";
import { BigField } from "../student/join";
import { Alert, BigButton, Sheet } from "../student/parts";
import { momentOf, namesIn } from "../ui/words";
import { askAbout, askNoMore, enterOwn, goTo, leaveOwn, ownPage, ownResult, type OwnPage as Page } from "./api";
import { OwnCalendar } from "./own-calendar";
import { OwnGrowth } from "./own-growth";

const LOOK_AGAIN = 20_000;
const link = location.pathname.split("/")[2] ?? "";

/** A student's own page: what is open for them now, what is ahead, and what they were told. */
export function OwnPage() {
  const [page, setPage] = useState<Page | null | undefined>(undefined);
  const [says, setSays] = useState<string | null>(null);
  const [result, setResult] = useState<{ sitting: number; paper: StudentResult } | null>(null);
  const look = useCallback(
    () =>
      ownPage().then(
        (found) => {
          setPage(found);
          setSays(null);
        },
        (error: Error) => setSays(error.message),
      ),
    [],
  );
  useEffect(() => {
    document.title = t`Your page · Verso Mark`;
    void look();
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, [look]);
  if (page === undefined)
    return says ? (
      <Sheet title={t`No connection.`}>{t`Check the network. This page looks again by itself.`}</Sheet>
    ) : null;
  if (page === null) return <Enter onEnter={setPage} />;
  const go = async (sitting: number) => {
    try {
      await goTo(sitting);
      location.assign("/join");
    } catch (error) {
      setSays((error as Error).message);
      void look();
    }
  };
  const see = (sitting: number) =>
    ownResult(sitting).then(
      (found) => {
        setResult({ sitting, paper: found });
        setSays(null);
        scrollTo(0, 0);
      },
      (error: Error) => setSays(error.message),
    );
  if (result)
    return (
      <main className="mx-auto min-h-dvh max-w-2xl bg-page px-6 py-8 text-lg">
        <p className="mb-4 flex gap-3" data-screen-only>
          <BigButton onClick={() => setResult(null)}>{t`Back to your page`}</BigButton>
          <BigButton onClick={() => print()}>{t`Print`}</BigButton>
        </p>
        <h1 className="mb-3 font-serif text-3xl leading-tight font-semibold">{result.paper.title}</h1>
        <p className="mb-3 text-graphite">
          <bdi>{result.paper.student}</bdi>
        </p>
        <ResultPaper
          result={result.paper}
          files={{
            handedIn: `/api/v1/portal/sittings/${result.sitting}/files`,
            work: `/api/v1/portal/sittings/${result.sitting}/pictures`,
            returned: `/api/v1/portal/sittings/${result.sitting}/returned`,
          }}
          asking={{
            ask: (item, reason) =>
              askAbout(result.sitting, item, reason).then((paper) => setResult({ ...result, paper })),
            takeBack: (item) => askNoMore(result.sitting, item).then((paper) => setResult({ ...result, paper })),
          }}
          material={(id) => `/api/v1/portal/sittings/${result.sitting}/materials/${id}`}
        />
      </main>
    );
  const open = page.sittings.filter((sitting) => sitting.stage === "open");
  const others = page.sittings.filter((one) => one.stage !== "open");
  return (
    <Sheet title={t`Your page, ${namesIn([page.student])}`}>
      <Alert says={says} />
      {open.length === 0 && <p>{t`Nothing is open for you now.`}</p>}
      {open.map((one) => (
        <section key={one.id} className="mb-4 border-s-2 border-iris bg-iris-wash px-4 py-3">
          <h2 className="font-serif text-xl font-semibold">{one.title}</h2>
          <p className="mb-3 text-base text-graphite">{one.when}</p>
          <BigButton look="main" onClick={() => go(one.id)}>{t`Go to it`}</BigButton>
        </section>
      ))}
      {others.length > 0 && (
        <List name={t`Your tests`}>
          {others.map((one) => (
            <li key={one.id} className="border-b border-hairline py-2">
              <span className="font-serif">{one.title}</span>
              <span className="block text-base text-graphite">
                {STAGES[one.stage] ?? one.when}{" "}
                {one.results && (
                  <button type="button" className="me-3 font-semibold text-iris underline" onClick={() => see(one.id)}>
                    <Trans>
                      See your result<span className="sr-only">: {one.title}</span>
                    </Trans>
                  </button>
                )}
                {one.may_go && (
                  <button type="button" className="underline" onClick={() => go(one.id)}>
                    <Trans>
                      Look at it again<span className="sr-only">: {one.title}</span>
                    </Trans>
                  </button>
                )}
              </span>
            </li>
          ))}
        </List>
      )}
      <OwnGrowth released={page.sittings.filter((sitting) => sitting.results).length} />
      {page.notices.length > 0 && (
        <List name={t`Told you`}>
          {page.notices.map((notice) => (
            <li key={`${notice.at}${notice.says}`} className="border-b border-hairline py-2">
              {notice.new && <strong className="text-iris">{t`new ·`} </strong>}
              {notice.says}
              <span className="block text-base text-graphite">{momentOf(notice.at)}</span>
            </li>
          ))}
        </List>
      )}
      <OwnCalendar />
      <p className="mt-8">
        <BigButton onClick={() => leaveOwn().then(() => setPage(null))}>{t`Leave this device`}</BigButton>
      </p>
    </Sheet>
  );
}

const STAGES: Record<string, string> = { "handed in": t`Handed in.`, over: t`It is over.` };

function List({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <section className="mt-6">
      <h2 className="text-sm tracking-widest text-graphite uppercase">{name}</h2>
      <ul>{children}</ul>
    </section>
  );
}

function Enter({ onEnter }: { onEnter: (page: Page) => void }) {
  const [pass, setPass] = useState("");
  const [says, setSays] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (!link)
    return (
      <Sheet
        title={t`Your own page.`}
      >{t`Open it with the link that your teacher gave your class, or that stands on your slip.`}</Sheet>
    );
  const enter = async () => {
    setBusy(true);
    setSays(null);
    await enterOwn(link, pass).then(onEnter, (error: Error) => setSays(error.message));
    setBusy(false);
  };
  return (
    <Sheet title={t`Your own page.`}>
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          void enter();
        }}
      >
        <BigField label={t`Your pass`} example="word-123" value={pass} onChange={setPass} />
        <Alert says={says} />
        <BigButton look="main" type="submit" className="w-full" disabled={busy}>{t`Come in`}</BigButton>
      </form>
      <p className="mt-6 text-base text-graphite">{t`The pass is the word and number on your slip.`}</p>
    </Sheet>
  );
}
