import { t } from "@lingui/core/macro";
import { Button } from "../ui/button";
import { useKeys } from "../ui/keys";
import type { RoomInHand } from "./use-room";

const NEXT = "ArrowRight";
const BACK = "ArrowLeft";

type Props = { room: RoomInHand; onQuick?: () => void; more?: Record<string, () => void> };

/** What the teacher does with the question that is on, each with its key. */
export function Acts({ room, onQuick, more = {} }: Props) {
  const { page } = room;
  const wall = page?.wall;
  const running = page?.state === "open";
  const question = wall !== undefined && page !== undefined && page.place > 0 && wall.number > 0;
  const last = page ? page.place >= page.steps.length : false;
  const toggle = () => (wall?.collecting ? room.act("stop") : room.act("reopen"));
  const spread = () => room.act(wall?.stage === "spread" ? "question" : "spread");
  useKeys(
    running
      ? {
          " ": () => question && toggle(),
          s: () => question && spread(),
          r: () => question && room.act("answer"),
          g: () => question && room.act("again"),
          [NEXT]: () => !last && room.act("go"),
          [BACK]: () => page.place > 0 && room.act("go", page.place - 1),
          ...(onQuick ? { q: onQuick } : {}),
          ...more,
        }
      : {},
  );
  if (!running || !wall) return null;
  return (
    <div className="mb-5 flex flex-wrap gap-2">
      {question && (
        <>
          {wall.stage !== "answer" && (
            <Button variant="main" keyHint={t`Space`} disabled={room.busy} onClick={toggle}>
              {wall.collecting ? t`Stop collecting` : t`Go on collecting`}
            </Button>
          )}
          <Button keyHint="S" onClick={spread}>
            {wall.stage === "spread" ? t`Hide the spread` : t`Show the spread`}
          </Button>
          {page.has_key && (
            <Button
              keyHint="R"
              disabled={wall.stage === "answer"}
              onClick={() => room.act("answer")}
            >{t`Show answer`}</Button>
          )}
          <Button keyHint="G" onClick={() => room.act("again")}>{t`Ask again`}</Button>
        </>
      )}
      {onQuick && <Button keyHint="Q" onClick={onQuick}>{t`Quick question`}</Button>}
      <Button
        variant={question && wall.stage !== "answer" ? "plain" : "main"}
        keyHint="→"
        className="ms-auto"
        disabled={last || room.busy}
        onClick={() => room.act("go")}
      >
        {nextWords(page)}
      </Button>
    </div>
  );
}

function nextWords({ steps, place }: { steps: { kind: string }[]; place: number }): string {
  const next = steps[place];
  if (!next) return t`That was the last`;
  if (place === 0) return next.kind === "page" ? t`Begin` : t`Ask the first question`;
  return next.kind === "page" ? t`Next page` : t`Next question`;
}
