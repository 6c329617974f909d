import { useCallback, useEffect, useRef, useState } from "react";
import { useNudges } from "../api/nudges";
import { leave, mySeat, type SeatPage } from "./api";
import { Join } from "./join";
import { MarksEntry } from "./marks-entry";
import { BigButton, Sheet } from "./parts";
import { InTheRoom } from "./room";
import { Working } from "./working";

const LOOK_AGAIN = 10_000;

/** Where this student is: not here yet, waiting, at work, paused, done. */
export function Seat() {
  const [seat, setSeat] = useState<SeatPage | null | undefined>(undefined);
  const [lost, setLost] = useState(false);
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
      // While working, the questions on this device and the answers given on it are ahead of the server's copy.
      setSeat((now) =>
        now?.stage === "working" &&
        found?.stage === "working" &&
        now.seat === found.seat &&
        now.in_the_room === found.in_the_room
          ? now
          : found,
      );
    } catch {
      setLost(true);
    }
  }, []);
  useEffect(() => void look(), [look]);
  // What comes with a nudge is for the lesson that is on; a class full of devices need not ask where they are as well.
  useNudges(seat ? "/ws/seat" : null, (shown) => {
    if (!shown) void look();
  });
  useEffect(() => {
    // Nudges may be missed; whoever waits looks again by themselves.
    if (seat?.stage === "working") return;
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, [seat?.stage, look]);
  useEffect(() => {
    document.title = seat ? `${seat.title} · Verso Mark` : "Join · Verso Mark";
  }, [seat]);

  useNeeds(seat?.needs);

  if (seat === undefined)
    return lost ? <Sheet title="No connection.">Check the network. This page looks again by itself.</Sheet> : null;
  if (seat === null) return <Join onSeat={settle} />;
  const forget = async () => {
    await leave();
    settle(null);
  };
  if (seat.in_the_room && (seat.stage === "working" || seat.stage === "waiting"))
    return <InTheRoom key={seat.seat} seat={seat} onOver={look} />;
  if (seat.stage === "working" && seat.paper && seat.marks_only)
    return <MarksEntry key={seat.seat} seat={seat} paper={seat.paper} onSeat={settle} onLook={look} />;
  if (seat.stage === "working" && seat.paper)
    return <Working key={seat.seat} seat={seat} paper={seat.paper} onSeat={settle} onLook={look} />;
  const { title, says } = { ...MESSAGES[seat.stage], ...(seat.marks_only && MARKS_ONLY[seat.stage]) };
  return (
    <Sheet title={title.replace("NAME", seat.student)}>
      <p className="mb-1 text-base text-graphite">{seat.title}</p>
      <p>{says}</p>
      {lost && <p className="mt-4 text-ochre">◐ No connection just now. This page looks again by itself.</p>}
      <p className="mt-8">
        <BigButton onClick={forget}>
          {seat.stage === "handed in" || seat.stage === "closed" ? "Leave this device" : `I am not ${seat.student}`}
        </BigButton>
      </p>
    </Sheet>
  );
}

const MESSAGES: Record<SeatPage["stage"], { title: string; says: string }> = {
  waiting: {
    title: "Welcome, NAME.",
    says: "The test begins when your teacher opens it. You can put this device down until then.",
  },
  working: { title: "One moment, NAME.", says: "Your questions are on their way." },
  paused: {
    title: "Paused.",
    says: "Your teacher has paused the test. Everything you answered is kept. It goes on by itself.",
  },
  "handed in": { title: "Handed in.", says: "Thank you. Your answers are with your teacher." },
  closed: { title: "This test is closed.", says: "Your teacher has ended it. What you answered is kept." },
};

/** The same where it is marks of one's own paper that are entered. */
const MARKS_ONLY: Partial<typeof MESSAGES> = {
  waiting: {
    title: "Welcome, NAME.",
    says: "You can enter the marks of your paper when your teacher says so.",
  },
  paused: { title: "Entry is closed.", says: "What you have entered is kept. If it opens again, you go on here." },
  "handed in": { title: "Handed in.", says: "Thank you. Your marks are with your teacher." },
  closed: { title: "Entry is closed.", says: "All marks are in. What you entered is kept." },
};

/** What this student needs, on every screen of theirs: larger type and a coloured ground. */
function useNeeds(needs: SeatPage["needs"] | undefined) {
  const large = needs?.large_print ?? false;
  const ground = needs?.ground ?? "";
  useEffect(() => {
    const root = document.documentElement;
    root.toggleAttribute("data-large-print", large);
    if (ground) root.dataset.ground = ground;
    else delete root.dataset.ground;
  }, [large, ground]);
}
