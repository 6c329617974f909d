import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, read } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { useKeys } from "../ui/keys";
import { NoPage } from "../ui/no-page";
import { Empty, Page, SplitPage } from "../ui/split-page";
import { momentOf } from "../ui/words";
import { AskInRoom } from "./ask-in-room";
import { BroughtOver } from "./brought-over";
import { Homework } from "./homework";
import { QuestionRounds } from "./question-rounds";
import { RoundsTable } from "./rounds-table";
import { useRoom } from "./use-room";
import { WholeLesson } from "./whole-lesson";

/** The address of a lesson’s record while the lesson is still on. */
export function LessonRecordPage() {
  return <LessonRecord sittingId={Number(useParams().sittingId)} />;
}

/** A lesson, round by round: who said what, who took part, and what to do with it next. */
export function LessonRecord({ sittingId }: { sittingId: number }) {
  const room = useRoom(sittingId);
  const [chosen, setChosen] = useState<string | null>(null);
  const [asking, setAsking] = useState<"homework" | "bring" | null>(null);
  const found = useQuery({
    queryKey: ["lesson-record", sittingId],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/room/record", { params: { path: { sitting_id: sittingId } } })),
  });
  useKeys({ w: () => setChosen(null) });
  const record = found.data;
  if (!record || !room.page)
    return (
      <Page title={t`Round by round`}>
        <NoPage error={found.error ?? room.problem} />
      </Page>
    );
  const question = record.questions.find((question) => question.ref === chosen);
  return (
    <Page
      title={t`Round by round`}
      of={`${record.title} · ${record.class_name}`}
      facts={record.held ? momentOf(record.held) : ""}
      actions={
        <>
          {record.over ? (
            <>
              <Button variant="quiet" disabled={room.busy} onClick={() => room.act("open")}>{t`Open it again`}</Button>
              <Button onClick={() => setAsking("homework")}>{t`Give as homework…`}</Button>
              <AskInRoom what={{ like: sittingId }} label={t`With another class`} />
            </>
          ) : (
            <ButtonLink to={`/sittings/${sittingId}`}>{t`To the console`}</ButtonLink>
          )}
          <ButtonLink to={`/findings/${sittingId}`} variant="main">{t`Findings`}</ButtonLink>
        </>
      }
    >
      {record.questions.length === 0 ? (
        <div className="px-6">
          <Problem error={room.error} />
          <Empty
            title={t`Nothing was asked together.`}
            action={<ButtonLink to={`/findings/${sittingId}`} variant="main">{t`Findings`}</ButtonLink>}
          >
            {room.page.alone
              ? t`Everyone worked at their own pace; what they answered is in the findings.`
              : t`${plural(record.of, { one: "# student", other: "# students" })} could have answered. Give the questions as homework, or ask them again.`}
          </Empty>
        </div>
      ) : (
        <SplitPage
          names={{ left: t`Answers`, right: question ? t`Question ${question.number}` : t`The whole lesson` }}
          left={
            <>
              <Problem error={room.error} />
              <RoundsTable record={record} chosen={chosen} onChoose={setChosen} />
            </>
          }
          right={
            question ? (
              <QuestionRounds question={question} onClose={() => setChosen(null)} />
            ) : (
              <WholeLesson record={record} onChoose={setChosen} onBring={() => setAsking("bring")} />
            )
          }
        />
      )}
      {asking === "homework" && <Homework sittingId={sittingId} record={record} onClose={() => setAsking(null)} />}
      {asking === "bring" && <BroughtOver sittingId={sittingId} onClose={() => setAsking(null)} />}
    </Page>
  );
}
