import { t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { useNudges } from "../api/nudges";
import { Button, ButtonLink } from "../ui/button";
import { Field, Problem, TextArea, TextInput } from "../ui/field";
import { Empty, Page, Region, SplitPage } from "../ui/split-page";
import { amount, momentOf, questionInWords } from "../ui/words";

type Line = Schemas["MarkQuestionLine"];
const marks = (value: number | null) => (value === null ? "–" : amount(value, value % 1 ? 1 : 0));

/** What students ask about their marks: until when they may, and an answer to each. */
export function MarkQuestionsPage() {
  const sittingId = Number(useParams().sittingId);
  const client = useQueryClient();
  const path = { sitting_id: sittingId };
  const key = ["mark questions", sittingId];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/marking/questions", { params: { path } })),
  });
  useNudges(`/ws/sittings/${sittingId}`, () => void client.invalidateQueries({ queryKey: key }));
  const keep = (page: Schemas["MarkQuestionsPage"]) => answered(client, key, page);
  const answer = useMutation({
    mutationFn: ({ id, words }: { id: number; words: string }) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/questions/{question_id}", {
          params: { path: { ...path, question_id: id } },
          body: { answer: words },
        }),
      ),
    onSuccess: (page) => {
      keep(page);
      void client.invalidateQueries({ queryKey: ["results", sittingId] });
    },
    // A colleague may have answered meanwhile.
    onError: () => void client.invalidateQueries({ queryKey: key }),
  });
  const page = found.data;
  const waiting = page?.lines.filter((line) => line.state === "open") ?? [];
  const done = page?.lines.filter((line) => line.state !== "open") ?? [];
  return (
    <Page title={t`Questions about marks`} actions={<ButtonLink to={`/results/${sittingId}`}>{t`Results`}</ButtonLink>}>
      <SplitPage
        split="even"
        names={{ left: t`Questions`, right: t`Until when` }}
        left={
          <>
            <Problem error={found.error ?? answer.error} />
            {page && page.lines.length === 0 && (
              <Empty title={t`Nobody has asked.`}>
                {page.until
                  ? t`Students whose marks are released can ask beside each answer, until ${momentOf(page.until)}.`
                  : t`Students cannot ask yet. Say until when they may.`}
              </Empty>
            )}
            {waiting.map((line) => (
              <Asked
                key={line.id}
                sittingId={sittingId}
                line={line}
                busy={answer.isPending}
                onAnswer={(words) => answer.mutate({ id: line.id, words })}
              />
            ))}
            {done.length > 0 && (
              <Region name={t`Answered`}>
                {done.map((line) => (
                  <article key={line.id} className="border-b border-hairline py-2 text-sm">
                    <p>
                      <strong>{line.student}</strong>, {questionInWords(line.label)}
                      {": "}
                      {line.state === "changed" ? t`changed` : t`stays`}
                      {line.answered_at && (
                        <span className="text-graphite"> · {`${line.answered_by}, ${momentOf(line.answered_at)}`}</span>
                      )}
                    </p>
                    <p dir="auto" className="wrap-anywhere text-graphite">
                      {line.reason}
                    </p>
                    <p dir="auto" className="wrap-anywhere">
                      {line.answer}
                    </p>
                  </article>
                ))}
              </Region>
            )}
          </>
        }
        right={page && <Window key={page.until ?? ""} page={page} sittingId={sittingId} onKept={keep} />}
      />
    </Page>
  );
}

/** One question of a student, with the answer it is about. */
function Asked({
  sittingId,
  line,
  busy,
  onAnswer,
}: {
  sittingId: number;
  line: Line;
  busy: boolean;
  onAnswer: (words: string) => void;
}) {
  const [words, setWords] = useState("");
  const moved = line.then !== null && line.now !== null && Math.abs(line.then - line.now) > 1e-9;
  return (
    <article className="mb-6 border-b border-hairline pb-4">
      <h2 className="font-semibold">
        {line.student}, {questionInWords(line.label)}
        <span className="ms-3 font-normal text-graphite">{momentOf(line.at)}</span>
      </h2>
      <p dir="auto" className="my-2 border-s-2 border-plum ps-3 font-serif text-lg wrap-anywhere whitespace-pre-line">
        {line.reason}
      </p>
      <p className="text-sm text-graphite">{line.stem}</p>
      {line.gave && (
        <p dir="auto" className="my-1 line-clamp-6 text-sm wrap-anywhere">
          {t`Gave: ${line.gave}`}
        </p>
      )}
      <p className="my-2 text-sm">
        {moved
          ? t`${marks(line.now)} of ${marks(line.of)} now, ${marks(line.then)} when they asked.`
          : t`${marks(line.now)} of ${marks(line.of)}.`}{" "}
        {line.marker && <span className="text-graphite">{t`Marked by ${line.marker}.`}</span>}
      </p>
      <p className="mb-2">
        <ButtonLink
          to={
            line.by_hand
              ? `/marking/${sittingId}?${new URLSearchParams({ item: line.item, number: String(line.desk) })}`
              : `/findings/${sittingId}`
          }
        >
          {line.by_hand ? t`Open the answer and its history` : t`Open the question`}
        </ButtonLink>
      </p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          onAnswer(words);
        }}
      >
        <Field
          label={t`Your answer`}
          hint={
            moved
              ? t`${line.student} reads it, and that the mark was changed.`
              : t`${line.student} reads it, and that the mark stays. Change the mark first if it should change.`
          }
        >
          {(id) => (
            <TextArea
              id={id}
              rows={2}
              maxLength={1000}
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
          )}
        </Field>
        <Button type="submit" variant="main" disabled={busy || !words.trim()}>{t`Send the answer`}</Button>
      </form>
    </article>
  );
}

/** Until when students may ask. */
function Window({
  page,
  sittingId,
  onKept,
}: {
  page: Schemas["MarkQuestionsPage"];
  sittingId: number;
  onKept: (page: Schemas["MarkQuestionsPage"]) => void;
}) {
  const [until, setUntil] = useState(page.until ? local(new Date(page.until)) : local(inAWeek()));
  const open = useMutation({
    mutationFn: (when: string | null) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/questions/window", {
          params: { path: { sitting_id: sittingId } },
          body: { until: when && new Date(when).toISOString() },
        }),
      ),
    onSuccess: onKept,
  });
  return (
    <Region name={t`Until when`}>
      <p className="py-2">
        {page.until === null
          ? t`Students cannot ask now.`
          : new Date(page.until) > new Date()
            ? t`Students whose marks are released can ask until ${momentOf(page.until)}, once for each answer.`
            : t`Students could ask until ${momentOf(page.until)}.`}
      </p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (until) open.mutate(until);
        }}
      >
        <Field label={t`They may ask until`}>
          {(id) => (
            <TextInput id={id} type="datetime-local" value={until} onChange={(event) => setUntil(event.target.value)} />
          )}
        </Field>
        <Problem error={open.error} />
        <span className="flex gap-3">
          <Button type="submit" variant="main" disabled={open.isPending}>
            {page.until === null ? t`Let them ask` : t`Change the time`}
          </Button>
          {page.until !== null && (
            <Button disabled={open.isPending} onClick={() => open.mutate(null)}>{t`Let them ask no more`}</Button>
          )}
        </span>
      </form>
    </Region>
  );
}

const inAWeek = () => {
  const day = new Date();
  day.setDate(day.getDate() + 7);
  day.setHours(20, 0, 0, 0);
  return day;
};
const local = (at: Date) => new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
