import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { inWords } from "../ui/code-words";
import { Problem } from "../ui/field";
import { useNewOne } from "../ui/new-one";
import { Empty, Line, Page, Region } from "../ui/split-page";
import { momentOf, whenOf } from "../ui/words";
import { NewSitting } from "./new-sitting";
import { SittingTitle } from "./sitting-title";

const GROUPS = [
  { name: t`Open now`, states: ["open", "paused"] },
  { name: t`Coming up`, states: ["planned", "ready"] },
  { name: t`Closed`, states: ["closed", "released"] },
];

export function Sittings() {
  const [open, setOpen] = useNewOne();
  const sittings = useQuery({ queryKey: ["sittings"], queryFn: () => read(api.GET("/api/v1/sittings")) });
  const add = <Button variant="main" keyHint="N" onClick={() => setOpen(true)}>{t`New sitting`}</Button>;
  return (
    <Page
      title={t`Sittings`}
      actions={
        <>
          <ButtonLink to="/sittings/scans">{t`Scan inbox`}</ButtonLink>
          {add}
        </>
      }
    >
      <div className="max-w-5xl px-6 py-4">
        <Problem error={sittings.error} />
        {sittings.data?.length === 0 && (
          <Empty
            title={t`No sitting yet.`}
            action={add}
          >{t`A sitting is one occasion on which a class sits a frozen test.`}</Empty>
        )}
        {GROUPS.map(({ name, states }) => {
          const lines = sittings.data?.filter((sitting) => states.includes(sitting.state)) ?? [];
          return (
            lines.length > 0 && (
              <Region key={name} name={name}>
                {lines.map((sitting) => (
                  <SittingRow key={sitting.id} sitting={sitting} />
                ))}
              </Region>
            )
          );
        })}
      </div>
      {open && <NewSitting onClose={() => setOpen(false)} />}
    </Page>
  );
}

function SittingRow({ sitting }: { sitting: Schemas["SittingLine"] }) {
  const closed = sitting.state === "closed" || sitting.state === "released";
  const at = closed ? sitting.closed_at : (sitting.opened_at ?? sitting.planned_for);
  return (
    <Line
      margin={at ? whenOf(at) : t`when you say`}
      action={
        <>
          {closed && <ButtonLink to={`/findings/${sitting.id}`}>{t`Findings`}</ButtonLink>}
          <ButtonLink to={`/sittings/${sitting.id}`}>{actionWords(sitting, closed)}</ButtonLink>
        </>
      }
    >
      <SittingTitle sitting={sitting} />
      <p className="text-sm text-graphite">
        {sitting.missing.length > 0 ? (
          <span className="text-clay">◆ {sitting.missing.join(" ")}</span>
        ) : sitting.opened_at ? (
          progressWords(sitting, closed)
        ) : (
          `${inWords(sitting.state)}${sitting.in_the_room ? t`, in the room` : ""}: ${plural(sitting.seats, { one: "# seat", other: "# seats" })}, ${plural(sitting.questions, { one: "# question", other: "# questions" })}`
        )}
      </p>
    </Line>
  );
}

function actionWords(sitting: Schemas["SittingLine"], closed: boolean): string {
  if (sitting.marks_only) return t`Marks`;
  if (closed) return sitting.in_the_room ? t`Round by round` : t`Who sat it`;
  return sitting.opened_at ? t`Watch` : t`Go to it`;
}

function progressWords(
  { marks_only, in_the_room, handed_in, working, seats, closes_at }: Schemas["SittingLine"],
  closed: boolean,
): string {
  if (in_the_room)
    return t`in the room: ${closed ? handed_in : handed_in + working} of ${seats} ${closed ? t`took part` : "here"}`;
  const until = closes_at && !closed ? t`, until ${momentOf(closes_at)}` : "";
  return t`${handed_in} of ${seats} ${marks_only ? t`rows of marks full` : t`handed in`}${until}`;
}
