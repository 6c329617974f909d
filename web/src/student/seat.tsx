import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { lazy, Suspense, useCallback, useEffect, useRef, useState } from "react";
import { useNudges } from "../api/nudges";
import { ContentLanguage, Rich } from "../ui/rich";
import { namesIn } from "../ui/words";
import { beginAgain, goOnHere, goToNext, leave, mySeat, nextPart, type SeatPage, takeBack } from "./api";
import { useComfort } from "./comfort";
import { fetchAhead } from "./fetch-ahead";
import { Join } from "./join";
import { copyHere, forgetCopy, handedInHere, keepCopy, waitingOf, withGivenHere } from "./on-this-device";
import { OwnBreak } from "./own-break";
import { Alert, BigButton, Sheet } from "./parts";
import { HandedInHere, Leftovers, TimeOver } from "./unheard";
import { useOnlyTab } from "./use-only-tab";

// A device meets one of these only; the others are not fetched.
/** The paper's part comes while one types the code: what one sees first need not wait for it. */
const paperPart = () => import("./working");
const Working = lazy(async () => ({ default: (await paperPart()).Working }));
const InTheRoom = lazy(async () => ({ default: (await import("./room")).InTheRoom }));
const MarksEntry = lazy(async () => ({ default: (await import("./marks-entry")).MarksEntry }));

const LOOK_AGAIN = 10_000;
const TOLD_OF_HANDING_IN: readonly SeatPage["stage"][] = ["working", "paused", "handed in", "closed", "locked"];

/** Where this student is: not here yet, waiting, at work, paused, done. */
export function Seat() {
  const [language, setLanguage] = useState<string>();
  return (
    <ContentLanguage value={language}>
      <TheSeat onLanguage={setLanguage} />
    </ContentLanguage>
  );
}

function TheSeat({ onLanguage }: { onLanguage: (language: string | undefined) => void }) {
  const [seat, setSeat] = useState<SeatPage | null | undefined>(undefined);
  const [lost, setLost] = useState(false);
  /** Whether the time ran out by this device's count. */
  const timeUp = useRef(false);
  const [, redraw] = useState(0);
  // Which answer of the server is the latest: one that was asked for earlier and comes later says how things were.
  const turn = useRef(0);
  const settle = useCallback((found: SeatPage | null) => {
    turn.current += 1;
    setSeat(found);
  }, []);
  const look = useCallback(async () => {
    turn.current += 1;
    const mine = turn.current;
    try {
      const found = await mySeat();
      setLost(false);
      if (mine !== turn.current) return;
      const wasTimeUp = timeUp.current;
      timeUp.current = false;
      // While working, the questions on this device and the answers given on it are ahead of the server's copy.
      setSeat((now) =>
        now?.stage === "working" &&
        found?.stage === "working" &&
        now.seat === found.seat &&
        now.in_the_room === found.in_the_room
          ? { ...(wasTimeUp ? withGivenHere(now) : now), seconds_left: found.seconds_left, closes_at: found.closes_at }
          : found,
      );
    } catch {
      setLost(true);
      const copy = await copyHere();
      // Loaded anew without a connection: it goes on with what this device has.
      if (copy && mine === turn.current) setSeat((now) => now ?? copy);
    }
  }, []);
  useEffect(() => void look(), [look]);
  const atWork = seat?.stage === "working" && !seat.in_the_room && seat.paper !== null;
  useEffect(() => {
    if (seat === undefined) return;
    if (!seat || !atWork) void forgetCopy();
    else if (!lost) void keepCopy(seat);
  }, [seat, atWork, lost]);
  const paper = atWork ? seat.paper : null;
  const readsAloud = seat?.needs.read_aloud ?? false;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a paper does not change while one works on it
  useEffect(() => {
    if (!paper || lost) return;
    const over = new AbortController();
    void fetchAhead(paper, readsAloud, over.signal);
    return () => over.abort();
  }, [seat?.seat, atWork, lost]);
  useEffect(() => {
    // Not there yet is no harm: it is asked for again when it is needed.
    paperPart().catch(() => {});
  }, []);
  // What comes with a nudge is for the lesson that is on; a class full of devices need not ask where they are as well.
  useNudges(seat ? "/ws/seat" : null, (shown) => {
    if (!shown) void look();
  });
  useEffect(() => {
    // Nudges may be missed; whoever waits looks again by themselves.
    if (seat?.stage === "working" && !lost) return;
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, [seat?.stage, lost, look]);
  useEffect(() => {
    onLanguage(seat?.language);
    document.title = seat ? t`${seat.title} · Verso Mark` : t`Join · Verso Mark`;
  }, [seat, onLanguage]);

  const comfort = useComfort(seat?.needs);
  const { mine, take } = useOnlyTab(seat?.stage === "working" ? seat.seat : undefined);

  if (seat === undefined)
    return lost ? (
      <Sheet title={t`No connection.`}>{t`Check the network. This page looks again by itself.`}</Sheet>
    ) : null;
  if (seat === null) return <Join onSeat={settle} />;
  const forget = async () => {
    await leave();
    settle(null);
  };
  if (seat.stage === "sent back")
    return (
      <>
        <div className="mx-auto max-w-xl bg-page px-6 pt-6">
          <Alert says={t`Your teacher sent this device back from the door. Give the code and your own pass.`} />
        </div>
        <Join onSeat={settle} />
      </>
    );
  if (!mine)
    return (
      <Sheet title={t`It is open in another tab.`}>
        <p>{t`So that nothing gets mixed up, you work in one of them only. Everything you answered is kept.`}</p>
        <p className="mt-8">
          <BigButton
            look="main"
            onClick={() => {
              // What the other tab has given since is asked for first.
              setSeat(undefined);
              take();
              void look();
            }}
          >{t`Go on in this one`}</BigButton>
        </p>
      </Sheet>
    );
  // Also where the server has ended it meanwhile: it was handed in before, and that counts.
  if (TOLD_OF_HANDING_IN.includes(seat.stage) && handedInHere(seat.seat))
    return (
      <HandedInHere
        key={seat.seat}
        seat={seat}
        onSeat={settle}
        onLook={look}
        onGoOn={atWork ? () => setSeat((now) => now && withGivenHere(now)) : null}
      />
    );
  if (atWork && timeUp.current && lost) return <TimeOver key={seat.seat} seat={seat} onLook={look} />;
  const atWorkProps = {
    seat,
    comfort,
    onSeat: settle,
    onLook: look,
    onTimeUp: () => {
      timeUp.current = true;
      redraw((n) => n + 1);
      void look();
    },
    onHandedInHere: () => redraw((n) => n + 1),
  };
  if (seat.in_the_room && (seat.stage === "working" || seat.stage === "waiting"))
    return (
      <Suspense fallback={null}>
        <InTheRoom key={seat.seat} seat={seat} onOver={look} />
      </Suspense>
    );
  if (seat.stage === "working" && seat.paper && seat.marks_only)
    return (
      <Suspense fallback={null}>
        <MarksEntry key={seat.seat} paper={seat.paper} {...atWorkProps} />
      </Suspense>
    );
  if (seat.stage === "working" && seat.paper)
    return (
      <Suspense fallback={null}>
        <Working key={seat.seat} paper={seat.paper} {...atWorkProps} />
      </Suspense>
    );
  if (seat.stage === "paused" && seat.on_break)
    return <OwnBreak key={seat.seat} seat={seat} onSeat={settle} onLook={look} />;
  if (seat.stage === "at the door") return <AtTheDoor seat={seat} onLeave={forget} />;
  const { title, says } = { ...MESSAGES[seat.stage], ...(seat.marks_only && MARKS_ONLY[seat.stage]) };
  return (
    <Sheet title={title.replace("NAME.", namesIn([seat.student]))}>
      <p className="mb-1 text-base text-graphite">{seat.title}</p>
      {/* What is on this device only is not with the teacher: then that is said, and nothing else. */}
      {waitingOf(seat.seat).length === 0 && (
        <p>
          {seat.ended_by_time && seat.stage === "handed in"
            ? t`Your time is over. What you answered is with your teacher.`
            : says}
        </p>
      )}
      <Leftovers key={seat.seat} seat={seat.seat} onSent={look} />
      {lost && <p className="mt-4 text-ochre">{t`◐ No connection just now. This page looks again by itself.`}</p>}
      {seat.stage === "handed in" && seat.rules.attempts_left > 0 && (
        <p className="mt-4 text-base text-graphite">{t`You may try it again, from the beginning. Then the new attempt counts, and no longer this one.`}</p>
      )}
      {seat.own_page && ["handed in", "closed"].includes(seat.stage) && (
        <p className="mt-4">
          {seat.released ? t`Results are out.` : t`Your result comes when your teacher releases it.`}{" "}
          <Trans>
            It stands on{" "}
            <a className="font-semibold text-iris underline" href={seat.own_page}>
              your own page
            </a>
            . You open it with your pass.
          </Trans>
        </p>
      )}
      {seat.stage === "handed in" && <NextPart key={seat.seat} onSeat={settle} />}
      <p className="mt-8 flex flex-wrap gap-2.5">
        {seat.stage === "elsewhere" && (
          <BigButton look="main" onClick={async () => settle(await goOnHere())}>{t`Go on with this device`}</BigButton>
        )}
        {seat.stage === "handed in" && seat.rules.attempts_left > 0 && (
          <BigButton
            onClick={() => beginAgain().then(settle, look)}
          >{t`Try it again (${seat.rules.attempts_left} left)`}</BigButton>
        )}
        {seat.stage === "handed in" && seat.rules.take_back && !seat.ended_by_time && (
          <BigButton onClick={() => takeBack().then(settle, look)}>{t`Take it back and go on`}</BigButton>
        )}
        <BigButton onClick={forget}>
          {["handed in", "closed", "locked", "elsewhere"].includes(seat.stage)
            ? t`Leave this device`
            : t`I am not ${seat.student}`}
        </BigButton>
      </p>
    </Sheet>
  );
}

/** What follows at once, where this was the first part. */
function NextPart({ onSeat }: { onSeat: (seat: SeatPage) => void }) {
  const [title, setTitle] = useState("");
  useEffect(() => void nextPart().then(setTitle, () => {}), []);
  if (!title) return null;
  return (
    <p className="mt-6 border-s-2 border-iris bg-iris-wash px-4 py-3">
      <Trans>
        It goes on with <strong className="font-serif">{title}</strong>.
      </Trans>
      <BigButton
        look="main"
        className="mt-3 block"
        onClick={() => goToNext().then(onSeat, () => setTitle(""))}
      >{t`Go on`}</BigButton>
    </p>
  );
}

/** At the door: what to read before one is let in, and what the teacher will see. */
function AtTheDoor({ seat, onLeave }: { seat: SeatPage; onLeave: () => void }) {
  const { aids } = seat.rules;
  return (
    <Sheet title={t`You are at the door, ${namesIn([seat.student])}`}>
      <p className="mb-1 text-base text-graphite">{seat.title}</p>
      <p>{t`Your teacher lets you in. Read this until then.`}</p>
      <Rich html={seat.instructions} className="mt-5 border-s-2 border-hairline ps-4 font-serif" />
      {seat.seconds_left !== null && seat.seconds_left < 86_400 && (
        <p className="mt-4">{t`Your time begins when you are let in.`}</p>
      )}
      {aids.length > 0 && <p className="mt-4">{t`You may use ${aids.join(", ")}.`}</p>}
      <p className="mt-4 text-base text-graphite">{RECORDED}</p>
      <p className="mt-8">
        <BigButton onClick={onLeave}>{t`I am not ${seat.student}`}</BigButton>
      </p>
    </Sheet>
  );
}

const RECORDED = t`Your answers, which question you are at, and when you leave this page and for how long are recorded for your teacher.`;

const MESSAGES: Record<SeatPage["stage"], { title: string; says: string }> = {
  "at the door": { title: t`You are at the door, NAME.`, says: t`Your teacher lets you in.` },
  elsewhere: {
    title: t`You are on another device, NAME.`,
    says: t`You went on with another device, so this one is set aside. What it had not sent yet is kept here.`,
  },
  "sent back": { title: t`Not this seat.`, says: t`Give the code and your own pass.` },
  waiting: {
    title: t`Welcome, NAME.`,
    says: t`The test begins when your teacher opens it. You can put this device down until then.`,
  },
  working: { title: t`One moment, NAME.`, says: t`Your questions are on their way.` },
  paused: {
    title: t`Paused.`,
    says: t`Your teacher has paused the test. Everything you answered is kept. It goes on by itself.`,
  },
  "handed in": { title: t`Handed in.`, says: t`Thank you. Your answers are with your teacher.` },
  locked: { title: t`Locked.`, says: t`Your teacher has locked this test. What you gave is kept.` },
  closed: { title: t`This test is closed.`, says: t`Your teacher has ended it. What you answered is kept.` },
};

/** The same where it is marks of one's own paper that are entered. */
const MARKS_ONLY: Partial<typeof MESSAGES> = {
  waiting: {
    title: t`Welcome, NAME.`,
    says: t`You can enter the marks of your paper when your teacher says so.`,
  },
  paused: { title: t`Entry is closed.`, says: t`What you have entered is kept. If it opens again, you go on here.` },
  "handed in": { title: t`Handed in.`, says: t`Thank you. Your marks are with your teacher.` },
  closed: { title: t`Entry is closed.`, says: t`All marks are in. What you entered is kept.` },
};
