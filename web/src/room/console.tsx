import { useState } from "react";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { KeyCap } from "../ui/key-cap";
import { useKeys } from "../ui/keys";
import { ProgressBar } from "../ui/progress-bar";
import { Page, Region, Spread } from "../ui/spread";
import { many } from "../ui/words";
import { clock, useLeft, useTimeUp } from "../wall/time";
import { WallView } from "../wall/wall-view";
import { Compared } from "./compared";
import { Counts } from "./counts";
import { Quick } from "./quick";
import { Steps } from "./steps";
import { useRoom } from "./use-room";
import { useSince } from "./use-since";
import { WhoIsIn } from "./who-is-in";

const NO_TIME = { ends_at: null, now: "" };
const NEXT = "ArrowRight";
const BACK = "ArrowLeft";

/** The teacher's side of a lesson in the room: what is on the wall, what to do next, and who is still missing. */
export function Console({ sittingId }: { sittingId: number }) {
  const room = useRoom(sittingId);
  const [asking, setAsking] = useState<"end" | "quick" | null>(null);
  const { page } = room;
  const wall = page?.wall;
  const question = wall && page.place > 0 && wall.number > 0;
  const openWall = () => void open(`/wall/${sittingId}`, `wall-${sittingId}`, "popup,width=1280,height=720");
  const last = page ? page.place >= page.steps.length : false;
  const running = page?.state === "open";
  const toggle = () => (wall?.collecting ? room.act("stop") : room.act("reopen"));
  useKeys(
    running
      ? {
          " ": () => question && toggle(),
          s: () => question && room.act(wall.stage === "spread" ? "question" : "spread"),
          r: () => question && room.act("answer"),
          g: () => question && room.act("again"),
          q: () => setAsking("quick"),
          w: openWall,
          [NEXT]: () => !last && room.act("go"),
          [BACK]: () => page.place > 0 && room.act("go", page.place - 1),
        }
      : {},
  );
  useTimeUp(useLeft(wall?.collecting ? wall : NO_TIME), room.look);
  const since = useSince(wall?.collecting ? wall.asked_at : null, wall?.now);
  if (!page || !wall)
    return (
      <Page title="In the room">
        <div className="px-6">
          <Problem error={room.problem} />
        </div>
      </Page>
    );
  return (
    <Page
      title="In the room"
      facts={`${page.title} · ${page.class_name}`}
      actions={
        running ? (
          <>
            <Button
              look="quiet"
              aria-pressed={page.names_on_wall}
              onClick={() => room.set({ names: !page.names_on_wall })}
            >
              Names on the wall: {page.names_on_wall ? "on" : "off"}
            </Button>
            <Button onClick={() => setAsking("end")}>End the lesson…</Button>
          </>
        ) : (
          <ButtonLink to={`/findings/${sittingId}`} look="main">
            Findings
          </ButtonLink>
        )
      }
    >
      <Spread
        names={{ verso: "On the wall", recto: "Who is in" }}
        verso={
          <>
            <Problem error={room.error} />
            <Region
              name="On the wall now"
              remark={
                running && (
                  <button type="button" className="underline underline-offset-2" onClick={openWall}>
                    Open the wall window <KeyCap>W</KeyCap>
                  </button>
                )
              }
            >
              <div className="mt-3 flex aspect-[4/3] max-h-[24rem] sm:aspect-[16/9] w-full flex-col border border-hairline bg-page">
                <WallView wall={wall} />
              </div>
            </Region>
            {question && (
              <div className="mb-4 flex items-center gap-4">
                <span className="font-serif text-3xl font-semibold">{wall.inside}</span>
                <span className="shrink-0 text-sm leading-tight text-graphite">
                  of {wall.here} in
                  <br />
                  {wall.collecting ? `${clock(since)} since asked` : "collecting has stopped"}
                </span>
                <ProgressBar done={wall.inside} of={Math.max(wall.here, wall.inside)} label="answers that are in" />
              </div>
            )}
            {running && (
              <div className="mb-5 flex flex-wrap gap-2">
                {question && (
                  <>
                    {wall.stage !== "answer" && (
                      <Button look="main" cap="Space" disabled={room.busy} onClick={toggle}>
                        {wall.collecting ? "Stop collecting" : "Go on collecting"}
                      </Button>
                    )}
                    <Button cap="S" onClick={() => room.act(wall.stage === "spread" ? "question" : "spread")}>
                      {wall.stage === "spread" ? "Hide the spread" : "Show the spread"}
                    </Button>
                    {page.has_key && (
                      <Button cap="R" disabled={wall.stage === "answer"} onClick={() => room.act("answer")}>
                        Show answer
                      </Button>
                    )}
                    <Button cap="G" onClick={() => room.act("again")}>
                      Ask again
                    </Button>
                  </>
                )}
                <Button cap="Q" onClick={() => setAsking("quick")}>
                  Quick question
                </Button>
                <Button
                  look={question && wall.stage !== "answer" ? "plain" : "main"}
                  cap="→"
                  className="ml-auto"
                  disabled={last || room.busy}
                  onClick={() => room.act("go")}
                >
                  {nextWords(page)}
                </Button>
              </div>
            )}
            {question && <QuickKey page={page} onKey={room.quickKey} />}
            {page.compared && <Compared compared={page.compared} />}
            {question && <Counts page={page} />}
            {page.so_far && <p className="text-graphite">So far: {page.so_far}</p>}
          </>
        }
        recto={
          <>
            {running && page.may_practise && (
              <p className="mb-4 flex flex-wrap items-center gap-3 text-sm text-graphite">
                <Button onClick={() => room.practise()}>Bring in a practice class</Button>
                simulated students, to rehearse with
              </p>
            )}
            <WhoIsIn page={page} onAnswerFor={room.answerFor} />
            <Steps
              page={page}
              onGo={(place) => room.act("go", place)}
              onOrder={room.reorder}
              onSeconds={(seconds) => room.set({ seconds })}
            />
          </>
        }
      />
      {asking === "quick" && (
        <Quick
          onClose={() => setAsking(null)}
          onAsk={(options) => {
            setAsking(null);
            room.quick(options);
          }}
        />
      )}
      <Dialog
        open={asking === "end"}
        onClose={() => setAsking(null)}
        title="End the lesson?"
        says={`What ${many(wall.here, "student")} gave counts; who never came in is absent. You can open it again later.`}
      >
        <div className="flex justify-end gap-3">
          <Button onClick={() => setAsking(null)}>Go on</Button>
          <Button
            look="main"
            onClick={() => {
              setAsking(null);
              room.act("end");
            }}
          >
            End the lesson
          </Button>
        </div>
      </Dialog>
    </Page>
  );
}

function nextWords({ steps, place }: { steps: { kind: string }[]; place: number }): string {
  const next = steps[place];
  if (!next) return "That was the last";
  if (place === 0) return next.kind === "page" ? "Begin" : "Ask the first question";
  return next.kind === "page" ? "Next page" : "Next question";
}

/** Of a question that was spoken: which letter was right, said when it suits. */
function QuickKey({
  page,
  onKey,
}: {
  page: { steps: { kind: string }[]; place: number; letters: string[] };
  onKey: (letter: string) => void;
}) {
  if (page.steps[page.place - 1]?.kind !== "quick") return null;
  return (
    <fieldset className="mb-5 flex flex-wrap items-center gap-2">
      <legend className="float-left mr-2">Right is</legend>
      {page.letters.map((letter) => (
        <Button key={letter} onClick={() => onKey(letter)}>
          {letter}
        </Button>
      ))}
    </fieldset>
  );
}
