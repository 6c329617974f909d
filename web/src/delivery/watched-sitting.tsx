import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { useNudges } from "../api/nudges";
import { Button, ButtonLink } from "../ui/button";
import { inWords } from "../ui/code-words";
import { DeleteWhole } from "../ui/delete-whole";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { Menu } from "../ui/menu";
import { Page, SplitPage } from "../ui/split-page";
import { momentOf, whenOf } from "../ui/words";
import { Closing } from "./closing";
import { CopySitting } from "./copy-sitting";
import { Door } from "./door";
import { Minutes } from "./minutes";
import { PapersMenu } from "./papers-menu";
import { Replan } from "./replan";
import { SeatMenu } from "./seat-menu";
import { Seats } from "./seats";
import { SittingEvents } from "./sitting-events";
import { StillWaiting } from "./still-waiting";
import { Told } from "./told";
import type { Sitting, SittingInHand } from "./use-sitting";

/** Five hundred students make many nudges; who watches sees what has changed once a second. */
const WATCHES_EVERY = 1_000;

/** One sitting, watched: every seat, those first who need the teacher; on the right the door and who is missing. */
export function WatchedSitting({ sitting, page }: { sitting: SittingInHand; page: Sitting }) {
  const over = page.state === "closed" || page.state === "released";
  const alone = page.list.some((seat) => seat.sits_later && seat.state !== "handed in");
  useNudges(over && !alone ? null : `/ws/sittings/${page.id}`, sitting.look, WATCHES_EVERY);
  return (
    <Page
      title={page.own_name || page.title}
      facts={`${page.class_name} · ${plural(page.questions, { one: "# question", other: "# questions" })} · ${stateWords(page)}`}
      actions={<Actions sitting={sitting} page={page} />}
    >
      <SplitPage
        names={{ left: t`Seats`, right: t`Still waiting` }}
        left={
          <>
            <Problem error={sitting.error} />
            <Seats
              list={page.list}
              questions={page.questions}
              actions={(seat) => <SeatMenu sitting={sitting} page={page} seat={seat} />}
            />
          </>
        }
        right={
          <>
            <Door sitting={sitting} page={page} />
            {page.rules.tell && <Told sittingId={page.id} />}
            <StillWaiting sitting={sitting} page={page} />
            {page.opened_at && <SittingEvents sittingId={page.id} />}
          </>
        }
      />
    </Page>
  );
}

function stateWords(sitting: Sitting): string {
  if (sitting.state === "open") return sitting.closes_at ? t`open until ${momentOf(sitting.closes_at)}` : t`open`;
  if (sitting.state === "paused") return t`paused`;
  if (sitting.closed_at) return t`closed ${whenOf(sitting.closed_at)}`;
  if (!sitting.planned_for) return inWords(sitting.state);
  const opens = sitting.opens_itself ? t`opens` : t`${inWords(sitting.state)} for`;
  return `${opens} ${momentOf(sitting.planned_for)}`;
}

function Actions({ sitting, page }: { sitting: SittingInHand; page: Sitting }) {
  const [asking, setAsking] = useState<"remove" | "close" | "copy" | "plan" | "minutes" | "delete" | null>(null);
  const navigate = useNavigate();
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/sittings/{sitting_id}", { params: { path: { sitting_id: page.id } } })),
    onSuccess: () => {
      void changed(client, "plan");
      navigate("/sittings");
    },
  });
  const before = page.state === "planned" || page.state === "ready";
  const running = page.state === "open" || page.state === "paused";
  const more = [
    (before || running) && {
      name: before ? t`Change the plan…` : t`Move the end…`,
      onChoose: () => setAsking("plan"),
    },
    page.state === "open" && {
      name: t`Pause to another day`,
      says: page.closes_at
        ? t`nobody can go on until you say so; move its end as well`
        : t`nobody can go on until you say so; their time stands still`,
      onChoose: sitting.pause,
    },
    running && { name: t`Give everyone time…`, onChoose: () => setAsking("minutes") },
    page.opened_at && {
      name: page.list.every((seat) => seat.locked) ? t`Unlock all` : t`Lock all`,
      says: t`no student can go on, take back or try again`,
      onChoose: () => sitting.lockAll(!page.list.every((seat) => seat.locked)),
    },
    page.opened_at && { name: t`Results…`, onChoose: () => navigate(`/results/${page.id}`) },
    { name: t`Placement by score…`, onChoose: () => navigate(`/sittings/${page.id}/placement`) },
    { name: t`The same for other classes…`, onChoose: () => setAsking("copy") },
    !page.closed_at && {
      name: t`Into a calendar`,
      onChoose: () => location.assign(`/api/v1/sittings/${page.id}/calendar.ics`),
    },
    before && { name: t`Remove it…`, onChoose: () => setAsking("remove") },
    page.closed_at && { name: t`Delete the sitting whole…`, onChoose: () => setAsking("delete") },
  ].filter((choice) => typeof choice === "object" && choice !== null);
  return (
    <>
      <Menu trigger={<Button>{t`More`}</Button>} choices={more} />
      {page.watched !== "nothing" && (
        <ButtonLink
          to={`/sittings/${page.id}/watching`}
          variant={page.watched === "all" && !page.closed_at ? "main" : "plain"}
        >{t`Mark while watching`}</ButtonLink>
      )}
      <ButtonLink to={`/sittings/${page.id}/paper`}>{t`Answer sheets`}</ButtonLink>
      {before && (
        <>
          <PapersMenu sitting={page} />
          <Button
            variant={page.watched === "all" ? "plain" : "main"}
            disabled={sitting.busy || page.missing.length > 0}
            onClick={sitting.open}
          >{t`Open it`}</Button>
        </>
      )}
      {running && (
        <>
          <ButtonLink to={`/findings/${page.id}`}>{t`Findings so far`}</ButtonLink>
          <Button disabled={sitting.busy} onClick={page.state === "open" ? sitting.pause : sitting.open}>
            {page.state === "open" ? t`Pause all` : t`Go on`}
          </Button>
          <Button variant="main" disabled={sitting.busy} onClick={() => setAsking("close")}>{t`Close it…`}</Button>
        </>
      )}
      {page.closed_at && (
        <>
          <Button disabled={sitting.busy} onClick={sitting.open}>{t`Open it again`}</Button>
          <ButtonLink to={`/results/${page.id}`}>{t`Results`}</ButtonLink>
          <ButtonLink to={`/findings/${page.id}`} variant="main">{t`Findings`}</ButtonLink>
        </>
      )}
      {asking === "close" && <Closing page={page} onClose={() => setAsking(null)} onEnd={sitting.close} />}
      <Dialog
        open={asking === "remove"}
        onClose={() => setAsking(null)}
        title={t`Remove this sitting?`}
        says={t`Nobody has sat it. Its plan, its code and its rules go; the test and ${page.class_name} stay.`}
      >
        <Button variant="main" disabled={remove.isPending} onClick={() => remove.mutate()}>{t`Remove it`}</Button>
      </Dialog>
      {asking === "delete" && (
        <DeleteWhole
          title={t`Delete this sitting whole`}
          says={t`With every answer, mark and scan of ${page.class_name}. The test and the class stay. Nothing brings it back but a back-up.`}
          name={page.title}
          remove={(typed) =>
            read(
              api.POST("/api/v1/sittings/{sitting_id}/delete-whole", {
                params: { path: { sitting_id: page.id } },
                body: { typed },
              }),
            )
          }
          onDone={() => {
            client.invalidateQueries();
            navigate("/sittings");
          }}
          onClose={() => setAsking(null)}
        />
      )}
      {asking === "copy" && <CopySitting page={page} onClose={() => setAsking(null)} />}
      {asking === "plan" && <Replan sitting={sitting} page={page} onClose={() => setAsking(null)} />}
      {asking === "minutes" && (
        <Minutes
          title={t`Time for everyone`}
          says={t`For all who have not handed in, on top of what they have.`}
          onClose={() => setAsking(null)}
          onGive={sitting.giveAll}
        />
      )}
    </>
  );
}
