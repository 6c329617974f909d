import { t } from "@lingui/core/macro";
import { useRef, useState } from "react";
import { useParams } from "react-router";
import { Button, ButtonLink } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { Problem } from "../ui/field";
import { NoPage } from "../ui/no-page";
import { Page, Region, SplitPage } from "../ui/split-page";
import { Acts } from "./acts";
import { Inside } from "./inside";
import { type Look, lookAt } from "./pictures";
import { useCamera } from "./use-camera";
import { useRoom } from "./use-room";
import { WhoAnswered } from "./who-is-in";

/** The room through a camera: whose card has been read, who is still missing, and what is in doubt. */
export function Camera() {
  const sittingId = Number(useParams().sittingId);
  const room = useRoom(sittingId);
  const [on, setOn] = useState<"camera" | "practice" | null>(null);
  const video = useRef<HTMLVideoElement>(null);
  const image = useRef<HTMLImageElement>(null);
  const camera = useCamera(sittingId, on, { video, image });
  const { page } = room;
  const { look } = camera;
  const reading = useRef(Promise.resolve());
  const readPicture = (file: File) => {
    // One after another: of two pictures of the same card the later one counts.
    reading.current = reading.current
      .then(async () => camera.setLook(await lookAt(sittingId, file, true)))
      .then(() => camera.setSays(""))
      .catch((error: Error) => camera.setSays(error.message));
  };
  if (!page)
    return (
      <Page title={t`The room through the camera`}>
        <NoPage error={room.problem} />
      </Page>
    );
  const missing = look?.missing ?? page.waiting;
  const question = page.wall.number > 0;
  return (
    <Page
      title={t`The room through the camera`}
      of={`${page.title} · ${page.class_name}`}
      facts={question ? t`question ${page.wall.number} of ${page.wall.of}` : ""}
      actions={
        <>
          {on && <Button variant="quiet" onClick={() => setOn(null)}>{t`Stop the camera`}</Button>}
          <ButtonLink to={`/sittings/${sittingId}`}>{t`To the console`}</ButtonLink>
        </>
      }
    >
      <SplitPage
        names={{ left: t`What the camera sees`, right: t`Who is missing` }}
        left={
          <>
            <Problem error={room.error} />
            {camera.says && <Problem error={new Error(camera.says)} />}
            <div className="relative mb-4 flex aspect-video w-full items-center justify-center border border-hairline bg-board">
              <video
                ref={video}
                muted
                playsInline
                className={on === "camera" ? "absolute inset-0 size-full object-contain" : "hidden"}
              />
              <img
                ref={image}
                alt={t`the practice class with its cards`}
                className={on === "practice" ? "absolute inset-0 size-full object-contain" : "hidden"}
              />
              {on && look && <Marked look={look} />}
              {!on && (
                <div className="flex max-w-sm flex-col gap-3 p-4">
                  <Button variant="main" onClick={() => setOn("camera")}>{t`Start the camera`}</Button>
                  {page.practice_by_card && (
                    <Button onClick={() => setOn("practice")}>{t`Look at the practice class`}</Button>
                  )}
                  <ChooseFile
                    label={t`Pictures of the class`}
                    accept="image/jpeg,image/png"
                    several
                    words={t`Read pictures`}
                    look="plain"
                    onFile={readPicture}
                  />
                  <p className="text-sm text-graphite">{t`Stand where all cards are in view, two to six metres away. Pictures are read and kept nowhere.`}</p>
                </div>
              )}
            </div>
            {question && <Inside wall={page.wall} expected={page.wall.inside + missing.length} />}
            <Acts room={room} />
          </>
        }
        right={
          <>
            {look?.note && <p className="mb-4 border-s-2 border-ochre ps-3">{look.note}</p>}
            {question && (
              <Region name={t`Still missing: ${missing.length}`} remark={page.class_name}>
                <ul className="columns-2 gap-6">
                  {missing.map((seat) => (
                    <li key={seat.seat} className="flex break-inside-avoid items-baseline gap-3 py-1">
                      <span className="w-6 shrink-0 text-end text-graphite">{seat.desk}</span>
                      <span className="min-w-0 font-serif text-lg wrap-anywhere">{seat.name}</span>
                    </li>
                  ))}
                </ul>
                {missing.length === 0 && (
                  <p className="py-3 text-graphite">{t`Every card is read: they can come down.`}</p>
                )}
              </Region>
            )}
            {look && look.doubts.length > 0 && (
              <Region name={t`To settle: ${look.doubts.length}`}>
                <Doubts look={look} letters={page.letters} onAnswer={room.answerFor} />
              </Region>
            )}
            {question && <WhoAnswered inside={page.inside} />}
            {!question && <p className="text-graphite">{t`Ask a question, and have the cards held up.`}</p>}
            {question && !page.cards_fit && (
              <p className="text-ochre">{t`A card shows one of A to D. This question needs another kind of answer.`}</p>
            )}
          </>
        }
      />
    </Page>
  );
}

const STROKES = { in: "stroke-teal", seen: "stroke-iris", doubt: "stroke-ochre" };
const SIGNS = { in: "✓", seen: "", doubt: "?" };

/** Where cards are, over the picture: the desk number and whether it is in. Never the letter: the class may look on. */
function Marked({ look }: { look: Look }) {
  return (
    <svg
      viewBox={`0 0 ${look.width} ${look.height}`}
      className="absolute inset-0 size-full"
      role="img"
      aria-label={t`${look.seen.length} cards in view`}
    >
      {look.seen.map((card) => {
        const [x, y] = card.corners[0] ?? [0, 0];
        return (
          <g key={`${card.desk} ${x} ${y}`}>
            <polygon
              points={card.corners.map((corner) => corner.join(",")).join(" ")}
              className={`fill-none ${STROKES[card.state]}`}
              strokeWidth={look.width / 300}
            />
            <text
              x={x}
              y={y - look.height / 90}
              fontSize={look.height / 34}
              className="fill-ink font-semibold"
              stroke="var(--page)"
              strokeWidth={look.height / 180}
              paintOrder="stroke"
            >
              {card.desk} {SIGNS[card.state]}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

type DoubtsProps = { look: Look; letters: string[]; onAnswer: (seat: number, letter: string) => void };

/** What was seen and is not believed: the next frame may settle it, or the teacher. */
function Doubts({ look, letters, onAnswer }: DoubtsProps) {
  return (
    <ul>
      {look.doubts.map((doubt) => (
        <li key={doubt.desk} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-hairline py-1.5">
          <span className="w-6 shrink-0 text-end text-graphite">{doubt.desk}</span>
          <span className="min-w-0 flex-1">
            <span className="font-serif text-lg">{doubt.name}</span>{" "}
            <span className="text-sm text-ochre">{doubt.why}</span>
          </span>
          {doubt.seat !== null &&
            letters.map((letter) => (
              <Button
                key={letter}
                aria-label={t`${letter} for ${doubt.name}`}
                onClick={() => doubt.seat !== null && onAnswer(doubt.seat, letter)}
              >
                {letter}
              </Button>
            ))}
        </li>
      ))}
    </ul>
  );
}
