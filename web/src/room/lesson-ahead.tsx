import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Page, Region, SplitPage } from "../ui/split-page";
import { momentOf, namesIn } from "../ui/words";
import { WallView } from "../wall/wall-view";
import { Steps } from "./steps";
import type { ConsolePage, RoomInHand } from "./use-room";
import { WaysIn } from "./ways-in";

/** A lesson that was set up ahead: what will be asked, in which order, and the door to open. */
export function LessonAhead({ room, page }: { room: RoomInHand; page: ConsolePage }) {
  const [ways, setWays] = useState(false);
  const navigate = useNavigate();
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () =>
      read(api.DELETE("/api/v1/sittings/{sitting_id}", { params: { path: { sitting_id: page.sitting } } })),
    onSuccess: () => {
      void changed(client, "plan");
      navigate("/sittings");
    },
  });
  const atTheDoor = page.waiting.filter((seat) => seat.where !== "not joined");
  return (
    <Page
      title={t`In the room`}
      of={`${page.title} · ${page.class_name}`}
      facts={page.planned_for ? momentOf(page.planned_for) : ""}
      actions={
        <>
          <AskFirst
            name={t`Remove it`}
            title={t`Remove this lesson?`}
            says={t`${page.class_name} will find no door at its code any more. Its test stays; nobody has answered anything yet.`}
            does={t`Remove the lesson`}
            busy={remove.isPending}
            onSure={() => remove.mutate()}
          />
          <Button onClick={() => setWays(true)}>{t`How they answer`}</Button>
          <Button
            variant="main"
            disabled={page.missing.length > 0 || room.busy}
            onClick={() => room.act("open")}
          >{t`Open the door`}</Button>
        </>
      }
    >
      <SplitPage
        names={{ left: t`On the wall`, right: t`The lesson` }}
        left={
          <>
            <Problem error={room.error ?? remove.error} />
            {page.missing.length > 0 && (
              <p className="mb-4 text-clay">
                ◆ {page.missing.join(" ")} <ButtonLink to={`/classes/${page.class_id}`}>{t`Add students`}</ButtonLink>
              </p>
            )}
            <Region name={t`The wall when the door opens`} remark={page.alone ? t`each at their own pace` : undefined}>
              <div className="mt-3 flex aspect-[16/9] max-h-[24rem] w-full flex-col border border-hairline bg-page">
                <WallView wall={page.wall} />
              </div>
            </Region>
            <p className="text-graphite">
              {atTheDoor.length > 0
                ? t`${plural(atTheDoor.length, { one: "# student", other: "# students" })} at the door: ${namesIn(atTheDoor.map((seat) => seat.name))}`
                : t`Students can come to the door already, with this code. They see the first question when you ask it.`}
            </p>
          </>
        }
        right={<Steps page={page} onOrder={room.reorder} onSeconds={(seconds) => room.set({ seconds })} />}
      />
      {ways && (
        <WaysIn page={page} onClose={() => setWays(false)} onNames={(names_to_pick) => room.set({ names_to_pick })} />
      )}
    </Page>
  );
}
