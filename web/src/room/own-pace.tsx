import { t } from "@lingui/core/macro";
import { Seats } from "../delivery/seats";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";
import { ProgressBar } from "../ui/progress-bar";
import { Region } from "../ui/split-page";
import { WallView } from "../wall/wall-view";
import type { ConsolePage, RoomInHand } from "./use-room";

/** Everyone at their own pace: how far each is, and the way back to asking together. */
export function OwnPace({ room, page, onWall }: { room: RoomInHand; page: ConsolePage; onWall: () => void }) {
  const { wall } = page;
  return (
    <>
      <Problem error={room.error} />
      <div className="mb-4 flex flex-wrap items-center gap-4">
        <span className="font-serif text-3xl font-semibold">{wall.done}</span>
        <span className="shrink-0 text-sm leading-tight text-graphite">
          {t`of ${page.progress.length} handed in`}
          <br />
          {t`${wall.here} here, each at their own pace`}
        </span>
        <ProgressBar done={wall.done} of={page.progress.length} label={t`handed in`} />
        <Button variant="main" disabled={room.busy} onClick={() => room.act("gather")}>{t`Gather the class`}</Button>
      </div>
      <Seats list={page.progress} questions={page.questions} />
      <Region
        name={t`On the wall now`}
        remark={<Button variant="quiet" onClick={onWall}>{t`Open the wall window`}</Button>}
      >
        <div className="mt-3 flex aspect-[16/9] max-h-[18rem] w-full flex-col border border-hairline bg-page">
          <WallView wall={wall} />
        </div>
      </Region>
    </>
  );
}
