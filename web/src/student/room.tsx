import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useNudges } from "../api/nudges";
import { clock, useLeft, useTimeUp } from "../ui/countdown";
import { giveInRound, myRoom, type SeatPage, type StudentRoom } from "./api";
import { Alert, focusOnArrival, Sheet } from "./parts";
import { QuestionView } from "./question-view";
import { StimulusView, TeachingPage } from "./reading";
import { RoundSender } from "./round-sender";

const LOOK_AGAIN = 20_000;

/** In a lesson: what the teacher has on the wall, and the place to answer it. */
export function InTheRoom({ seat, onOver }: { seat: SeatPage; onOver: () => void }) {
  const [room, setRoom] = useState<StudentRoom | null>(null);
  const [lost, setLost] = useState(false);
  const [, redraw] = useState(0);
  const live = useRef({ turn: 0 });
  const take = useCallback((found: StudentRoom) => {
    live.current.turn += 1;
    setRoom(found);
    setLost(false);
  }, []);
  const look = useCallback(async () => {
    live.current.turn += 1;
    const mine = live.current.turn;
    try {
      const found = await myRoom();
      if (mine === live.current.turn) take(found);
    } catch {
      setLost(true);
    }
  }, [take]);
  useEffect(() => {
    void look();
    const timer = setInterval(look, LOOK_AGAIN);
    return () => clearInterval(timer);
  }, [look]);
  useNudges("/ws/seat", (shown) => {
    if (!shown) return void look();
    // What is the same for everybody comes with the nudge; one's own part is known here while a question is asked. Else
    // it is asked for a little later, so that a whole class does not ask at the same moment.
    live.current.turn += 1;
    const common = shown as StudentRoom;
    setRoom((now) => {
      const same = now?.round_id === common.round_id;
      const own = {
        response: same && now ? now.response : null,
        right: same && now ? now.right : null,
        right_so_far: now?.right_so_far ?? 0,
        asked_so_far: now?.asked_so_far ?? 0,
      };
      return { ...common, ...own };
    });
    if (common.stage !== "asking") setTimeout(look, 100 + Math.random() * 900);
  });
  const sender = useMemo(() => new RoundSender(giveInRound, take, () => redraw((n) => n + 1)), [take]);
  useEffect(() => () => sender.stop(), [sender]);
  useEffect(() => {
    // A refused answer means that the lesson has gone on: ask how things stand.
    if (sender.says) void look();
  }, [sender.says, look]);
  const left = useLeft(room ?? { ends_at: null, now: new Date().toISOString() });
  useTimeUp(room?.stage === "asking" ? left : null, look);
  const over = room?.stage === "over";
  useEffect(() => {
    if (over) onOver();
  }, [over, onOver]);
  if (!room) return null;
  if (room.stage === "joining" || room.stage === "over" || room.stage === "paused")
    return (
      <Sheet title={room.stage === "paused" ? t`One moment.` : t`Welcome, ${seat.student}.`}>
        <p className="mb-1 text-base text-graphite">{seat.title}</p>
        <p>{room.stage === "joining" ? t`You are in. The first question comes up here.` : t`Look at your teacher.`}</p>
        {lost && <p className="mt-4 text-ochre">{t`◐ No connection just now. This page looks again by itself.`}</p>}
      </Sheet>
    );
  // The end of the time shows at once, whenever the server's word of it arrives.
  const timeUp = room.stage === "asking" && left !== null && left <= 0;
  const asking = room.stage === "asking" && !timeUp;
  const waiting = sender.of(room.round_id);
  const mine = waiting === undefined ? room.response : waiting;
  const away = lost || sender.lost;
  return (
    <div className={`mx-auto flex min-h-dvh flex-col bg-page ${room.stimulus ? "max-w-6xl" : "max-w-2xl"}`}>
      <header className="sticky top-0 z-10 flex items-baseline justify-between gap-3 border-b border-hairline bg-page px-4.5 py-4">
        <strong dir="auto">{seat.student}</strong>
        <Kept lost={away} unsent={waiting !== undefined} given={mine !== null} />
      </header>
      <main ref={focusOnArrival} tabIndex={-1} className="flex-1 px-4.5 py-6 outline-none">
        <h1 className="sr-only">{seat.title}</h1>
        {room.page && <TeachingPage page={room.page} />}
        {room.question && (
          <div className={room.stimulus ? "grid gap-8 lg:grid-cols-2" : ""}>
            {room.stimulus && <StimulusView stimulus={room.stimulus} />}
            <div className="min-w-0">
              <div inert={!asking} className={asking ? "" : "opacity-70"}>
                <QuestionView
                  key={room.round_id}
                  question={room.question}
                  of={room.of}
                  response={mine}
                  readAloud={seat.needs.read_aloud && asking}
                  stimulus={room.stimulus}
                  onRespond={(response) => room.round_id && sender.give(room.round_id, response)}
                />
              </div>
              <Alert says={sender.says} />
              <Outcome room={room} given={mine !== null} arrived={waiting === undefined} timeUp={timeUp} />
            </div>
          </div>
        )}
      </main>
      <footer className="sticky bottom-0 flex items-baseline justify-between border-t border-hairline bg-page px-4.5 py-3.5 text-lg">
        <span>{room.asked_so_far > 0 && t`${room.right_so_far} of ${room.asked_so_far} right so far`}</span>
        {room.stage === "asking" && left !== null && (
          <strong className={left <= 10 ? "text-clay" : ""}>{clock(left)}</strong>
        )}
      </footer>
    </div>
  );
}

type OutcomeProps = { room: StudentRoom; given: boolean; arrived: boolean; timeUp: boolean };

function Outcome({ room, given, arrived, timeUp }: OutcomeProps) {
  const end = given ? (arrived ? t` Your answer is in.` : " Your answer has not arrived yet; it is being sent.") : "";
  if (room.stage === "answer" && room.key)
    return (
      <div role="status" className="mt-5 text-xl">
        {room.right !== null && (
          <p className={`font-semibold ${room.right ? "text-teal" : "text-clay"}`}>
            {room.right ? t`✓ Right.` : t`◆ Not right.`}
          </p>
        )}
        {!room.right && (
          <p>
            <Trans>
              The answer: <strong>{room.key}</strong>
            </Trans>
          </p>
        )}
      </div>
    );
  if (timeUp)
    return (
      <p role="status" className="mt-4 text-graphite">
        {t`The time is over.${end}`}
      </p>
    );
  if (room.stage === "asking")
    return room.round > 1 && !given ? (
      <p className="mt-4 text-graphite">{t`Asked again: choose what you think now.`}</p>
    ) : null;
  return (
    <p role="status" className="mt-4 text-graphite">
      {t`Your teacher has stopped collecting.${end}`}
    </p>
  );
}

function Kept({ lost, unsent, given }: { lost: boolean; unsent: boolean; given: boolean }) {
  const words = lost ? t`◐ no connection: it is kept here` : unsent ? t`keeping…` : given ? t`your answer is in ✓` : "";
  return (
    <span role="status" className={lost ? "text-ochre" : "text-graphite"}>
      {lost && !unsent ? t`◐ no connection` : words}
    </span>
  );
}
