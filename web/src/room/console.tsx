import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useNavigate } from "react-router";
import { Button } from "../ui/button";
import { useLeft, useTimeUp } from "../ui/countdown";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { KeyCap } from "../ui/key-cap";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
import { Page, Region, SplitPage } from "../ui/split-page";
import { WallView } from "../wall/wall-view";
import { Acts } from "./acts";
import { Compared } from "./compared";
import { Counts } from "./counts";
import { Inside } from "./inside";
import { LessonAhead } from "./lesson-ahead";
import { LessonRecord } from "./lesson-record";
import { OwnPace } from "./own-pace";
import { Practice } from "./practice";
import { Quick } from "./quick";
import { Steps } from "./steps";
import { useRoom } from "./use-room";
import { WaysIn } from "./ways-in";
import { WhoIsIn } from "./who-is-in";

const NO_TIME = { ends_at: null, now: "" };

/** The teacher's side of a lesson in the room: what is on the wall, what to do next, and who is still missing. */
export function Console({ sittingId }: { sittingId: number }) {
  const room = useRoom(sittingId);
  const [asking, setAsking] = useState<"end" | "quick" | "practice" | "ways" | null>(null);
  const { page } = room;
  const wall = page?.wall;
  const question = wall && page.place > 0 && wall.number > 0;
  const navigate = useNavigate();
  const openCamera = () => navigate(`/sittings/${sittingId}/camera`);
  const openWall = () => void open(`/wall/${sittingId}`, `wall-${sittingId}`, "popup,width=1280,height=720");
  const running = page?.state === "open";
  useTimeUp(useLeft(wall?.collecting ? wall : NO_TIME), room.look);
  if (!page || !wall)
    return (
      <Page title={t`In the room`}>
        <NoPage error={room.problem} />
      </Page>
    );
  if (page.state === "planned" || page.state === "ready") return <LessonAhead room={room} page={page} />;
  if (page.state === "closed" || page.state === "released") return <LessonRecord sittingId={sittingId} />;
  return (
    <Page
      title={t`In the room`}
      of={`${page.title} · ${page.class_name}`}
      actions={
        running ? (
          <>
            <Button variant="quiet" onClick={() => setAsking("ways")}>{t`How they answer`}</Button>
            {!page.alone && (
              <Button
                variant="quiet"
                aria-pressed={page.names_on_wall}
                onClick={() => room.set({ names: !page.names_on_wall })}
              >
                {t`Names on the wall: ${page.names_on_wall ? t`on` : t`off`}`}
              </Button>
            )}
            <Menu
              trigger={<Button>{t`More`}</Button>}
              choices={[
                ...(page.alone
                  ? []
                  : [{ name: t`Let everyone go on at their own pace`, onChoose: () => room.act("let go") }]),
                { name: t`Round by round, so far`, onChoose: () => navigate(`/sittings/${sittingId}/rounds`) },
                { name: t`Findings so far`, onChoose: () => navigate(`/findings/${sittingId}`) },
              ]}
            />
            <Button onClick={() => setAsking("end")}>{t`End the lesson…`}</Button>
          </>
        ) : (
          <Button variant="main" disabled={room.busy} onClick={() => room.act("open")}>{t`Go on`}</Button>
        )
      }
    >
      <SplitPage
        names={{ left: t`On the wall`, right: t`Who is in` }}
        left={
          page.alone ? (
            <OwnPace room={room} page={page} onWall={openWall} />
          ) : (
            <>
              <Problem error={room.error} />
              <Region
                name={t`On the wall now`}
                remark={
                  running && (
                    <button type="button" className="underline underline-offset-2" onClick={openWall}>
                      <Trans>
                        Open the wall window <KeyCap>W</KeyCap>
                      </Trans>
                    </button>
                  )
                }
              >
                <div className="mt-3 flex aspect-[4/3] max-h-[24rem] sm:aspect-[16/9] w-full flex-col border border-hairline bg-page">
                  <WallView wall={wall} />
                </div>
              </Region>
              {question && <Inside wall={wall} />}
              <Acts room={room} onQuick={() => setAsking("quick")} more={{ w: openWall, c: openCamera }} />
              {question && <QuickKey page={page} onKey={room.quickKey} />}
              {page.compared && <Compared compared={page.compared} />}
              {question && <Counts page={page} />}
              {page.so_far && <p className="text-graphite">{t`So far: ${page.so_far}`}</p>}
            </>
          )
        }
        right={
          <>
            {running && page.may_practise && (
              <p className="mb-4 flex flex-wrap items-center gap-3 text-sm text-graphite">
                <Button onClick={() => setAsking("practice")}>{t`Bring in a practice class`}</Button>
                {t`simulated students, to rehearse with`}
              </p>
            )}
            <WhoIsIn page={page} onAnswerFor={room.answerFor} />
            {!page.alone && (
              <Steps
                page={page}
                onGo={(place) => room.act("go", place)}
                onOrder={room.reorder}
                onSeconds={(seconds) => room.set({ seconds })}
              />
            )}
          </>
        }
      />
      {asking === "ways" && (
        <WaysIn page={page} onClose={() => setAsking(null)} onNames={(names_to_pick) => room.set({ names_to_pick })} />
      )}
      {asking === "practice" && (
        <Practice
          onClose={() => setAsking(null)}
          onBring={(by) => {
            setAsking(null);
            room.practise(by);
          }}
        />
      )}
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
        title={t`End the lesson?`}
        says={t`What ${plural(wall.here, { one: "# student", other: "# students" })} gave counts; who never came in is absent. You can open it again later.`}
      >
        <div className="flex justify-end gap-3">
          <Button onClick={() => setAsking(null)}>{t`Go on`}</Button>
          <Button
            variant="main"
            onClick={() => {
              setAsking(null);
              room.act("end");
            }}
          >{t`End the lesson`}</Button>
        </div>
      </Dialog>
    </Page>
  );
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
      <legend className="float-start me-2">{t`Right is`}</legend>
      {page.letters.map((letter) => (
        <Button key={letter} onClick={() => onKey(letter)}>
          {letter}
        </Button>
      ))}
    </fieldset>
  );
}
