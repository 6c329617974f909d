import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useState } from "react";
import { Link, NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { FirstAccount } from "../accounts/first-account";
import { LanguagesDialog } from "../accounts/languages-dialog";
import { SignIn } from "../accounts/sign-in";
import { WithCode } from "../accounts/with-code";
import { api, read, type Schemas } from "../api/client";
import { Help } from "../help/help";
import { NotSent } from "../outbox/not-sent";
import { OutboxProvider, useOutbox } from "../outbox/use-outbox";
import { PracticeStrip } from "../practice/practice-strip";
import { type AskInRoomProps, AskInRoomSlot } from "../ui/ask-in-room";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { KeyCap } from "../ui/key-cap";
import { useKeys } from "../ui/keys";
import { Mark } from "../ui/mark";
import { useNotesOf } from "../ui/undo";
import { Finder } from "./finder";
import { registerSenders } from "./senders";
import { toggleTheme } from "./theme";

const TABS = [
  ["/", t({ message: "Desk", context: "the page one begins on" })],
  ["/classes", t`Classes`],
  ["/bank", t`Bank`],
  ["/tests", t`Tests`],
  ["/sittings", t`Sittings`],
  ["/marking", t`Marking`],
  ["/findings", t`Findings`],
  ["/records", t`Records`],
] as const;

const tab = "block border px-3 py-2 lg:-me-px";
const tabOpen = `${tab} border-hairline bg-page font-semibold lg:border-e-page`;
const tabClosed = `${tab} border-transparent text-graphite hover:text-ink`;
const tool = "flex items-center justify-between gap-3 px-3 py-2 lg:w-full text-start text-graphite hover:text-ink";

const LazyAskInRoom = lazy(async () => ({ default: (await import("../room/ask-in-room")).AskInRoom }));

/** Fetched with the first page that offers it; the button comes a moment after the rest. */
function AskInRoom(props: AskInRoomProps) {
  return (
    <Suspense fallback={null}>
      <LazyAskInRoom {...props} />
    </Suspense>
  );
}

/** The board with the open book on it; before signing in, the way in. */
export function Shell() {
  const me = useQuery({ queryKey: ["me"], queryFn: () => read(api.GET("/api/v1/me")) });
  const path = useLocation().pathname;
  if (me.isError) return <p className="p-8">{me.error.message}</p>;
  if (!me.data) return null;
  if (me.data.empty) return <FirstAccount />;
  if (!me.data.name) return path === "/with-code" ? <WithCode mails={me.data.mails} /> : <SignIn />;
  return (
    <OutboxProvider owner={me.data.id ?? 0} register={registerSenders}>
      <AskInRoomSlot value={AskInRoom}>
        <Book me={me.data} />
      </AskInRoomSlot>
    </OutboxProvider>
  );
}

function Book({ me }: { me: Schemas["Me"] }) {
  const [languages, setLanguages] = useState(false);
  const [finding, setFinding] = useState(false);
  const [helping, setHelping] = useState(false);
  const client = useQueryClient();
  const navigate = useNavigate();
  useKeys({ "?": () => setHelping(true) });
  const path = useLocation().pathname;
  useNotesOf(path);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "k") return;
      event.preventDefault();
      setFinding(true);
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);
  const outbox = useOutbox();
  const [leaving, setLeaving] = useState(0);
  const signOut = async (sure = false) => {
    await outbox.sendNow();
    if (outbox.state.waiting > 0 && !sure) return setLeaving(outbox.state.waiting);
    await read(api.POST("/api/v1/sign-out"));
    client.clear();
    navigate("/");
    location.reload();
  };
  return (
    <div
      className={`flex min-h-screen flex-col p-2 lg:h-screen lg:flex-row lg:p-3.5 ${helping ? "2xl:pe-[25.9rem]! print:hidden" : ""}`}
    >
      <a
        href="#page"
        className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-page focus:p-2"
      >{t`Skip to the page`}</a>
      <header
        className="flex shrink-0 flex-wrap items-center lg:w-[7.4rem] lg:flex-col lg:items-stretch"
        data-screen-only
      >
        <div className="px-1 pt-1 pb-2 lg:pb-5">
          <Mark />
        </div>
        <nav
          data-stages
          aria-label={t`Stages of the job`}
          className="flex flex-1 overflow-x-auto lg:block lg:flex-none lg:overflow-visible"
        >
          {TABS.map(([to, name]) => (
            <NavLink key={to} to={to} end={to === "/"} className={({ isActive }) => (isActive ? tabOpen : tabClosed)}>
              {name}
            </NavLink>
          ))}
        </nav>
        <div className="lg:mt-auto">
          <NotSent />
        </div>
        <div className="flex flex-wrap lg:block">
          <button type="button" className={tool} onClick={() => setFinding(true)}>
            <Trans>
              Find <KeyCap hint>Ctrl K</KeyCap>
            </Trans>
          </button>
          <button type="button" className={tool} onClick={() => setHelping(true)}>
            <Trans>
              Help <KeyCap hint>?</KeyCap>
            </Trans>
          </button>
          <button type="button" className={tool} onClick={toggleTheme}>{t`Light, dark`}</button>
          <button type="button" className={tool} onClick={() => setLanguages(true)}>{t`Languages`}</button>
          <Link to="/account" className={tool} title={t`Your account`}>
            <bdi className="min-w-0 wrap-anywhere text-ink">{me.name}</bdi>
          </Link>
          <button type="button" className={tool} onClick={() => signOut()} title={t`Sign out`}>
            <span className="text-sm underline underline-offset-2">{t`sign out`}</span>
          </button>
        </div>
      </header>
      <div id="page" className="flex min-w-0 flex-1 flex-col lg:min-h-0">
        <PracticeStrip />
        <Outlet />
      </div>
      {languages && <LanguagesDialog me={me} onClose={() => setLanguages(false)} />}
      {finding && <Finder onClose={() => setFinding(false)} />}
      <Dialog
        open={leaving > 0}
        onClose={() => setLeaving(0)}
        title={t`${plural(leaving, { one: "# change", other: "# changes" })} not sent yet`}
        says={t`They stay in this browser and are sent when you sign in here again. On another machine they are not there.`}
      >
        <Button variant="main" onClick={() => signOut(true)}>{t`Sign out all the same`}</Button>
      </Dialog>
      {helping && <Help path={path} onClose={() => setHelping(false)} />}
    </div>
  );
}
