import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextArea } from "../ui/field";
import { saveFile } from "../ui/files";
import { ProgressBar } from "../ui/progress-bar";
import { begun } from "../ui/words";
import { type Written, writtenFile } from "./written-file";

type Body = Schemas["FeedbackBody"];
const TYPES = {
  pdf: "application/pdf",
  docx: "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
} as const;
type Form = keyof typeof TYPES;

/** Personal feedback sheets: what they say, the question to ask again for each skill, and the sheets themselves. */
export function Feedback({ sittingId, onClose }: { sittingId: number; onClose: () => void }) {
  const client = useQueryClient();
  const path = { sitting_id: sittingId };
  const key = ["feedback", sittingId];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/results/feedback", { params: { path } })),
    // The form holds the newest of it while it is open.
    refetchOnWindowFocus: false,
  });
  const [draft, setDraft] = useState<Body | null>(null);
  useEffect(() => {
    if (found.data) setDraft((now) => now ?? found.data);
  }, [found.data]);
  const [written, setWritten] = useState<Written | null>(null);
  const make = useMutation({
    mutationFn: async ({ body, form }: { body: Body; form: Form }) => {
      setWritten(null);
      const { intro, closing, marks, work, secure, nearly, follow_ups } = body;
      const kept = await read(
        api.PUT("/api/v1/sittings/{sitting_id}/results/feedback", {
          params: { path },
          body: { intro, closing, marks, work, secure, nearly, follow_ups },
        }),
      );
      answered(client, key, kept);
      const file = await writtenFile(`/api/v1/sittings/${sittingId}/results/feedback/written/${form}`, setWritten);
      saveFile(t`feedback sheets.${form}`, TYPES[form], file);
    },
  });
  const set = (part: Partial<Body>) => draft && setDraft({ ...draft, ...part });
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={t`Feedback sheets`}
      says={t`One for each student: their skills, and a question for each that is not secure yet. A last page for you has all questions with their answers.`}
    >
      <Problem error={found.error} />
      {draft && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate({ body: draft, form: "pdf" });
          }}
        >
          <Field label={t`What it says first`}>
            {(id) => (
              <TextArea
                id={id}
                rows={3}
                maxLength={2000}
                value={draft.intro}
                onChange={(event) => set({ intro: event.target.value })}
              />
            )}
          </Field>
          <Field label={t`What it says at the end`}>
            {(id) => (
              <TextArea
                id={id}
                rows={2}
                maxLength={2000}
                value={draft.closing}
                onChange={(event) => set({ closing: event.target.value })}
              />
            )}
          </Field>
          <Checkbox label={t`With the marks`} checked={draft.marks} onChange={(marks) => set({ marks })} />
          <Checkbox
            label={t`With the pages you wrote on with the pen (as a PDF)`}
            checked={draft.work}
            onChange={(work) => set({ work })}
          />
          <p className="mt-4 mb-1 font-semibold">{t`Ask again`}</p>
          {found.data?.lines.map((line) => (
            <Field
              key={line.skill}
              label={line.skill}
              {...(line.choices.length === 0 && {
                hint: t`No finished question of the bank tests it besides those of the test.`,
              })}
            >
              {(id) => (
                <Choice
                  id={id}
                  value={draft.follow_ups?.[line.skill] ?? ""}
                  onChange={(event) =>
                    set({ follow_ups: { ...draft.follow_ups, [line.skill]: event.target.value || null } })
                  }
                >
                  <option value="">{t`no question`}</option>
                  {line.choices.map((choice) => (
                    <option key={choice.item} value={choice.item}>
                      {begun(choice.stem, 80)}
                    </option>
                  ))}
                </Choice>
              )}
            </Field>
          ))}
          {found.data?.lines.some((line) => line.choices.length === 0) && (
            <p className="mb-3 text-sm">
              {t`Where the bank has no question, the sheet names the questions of this test to look at again.`}{" "}
              {found.data.lines
                .filter((line) => line.choices.length === 0)
                .map((line) => (
                  <Link
                    key={line.skill}
                    className="me-3 text-iris underline"
                    to={`/bank?new=1&skill=${encodeURIComponent(line.skill)}`}
                  >
                    {t`Write one on ${line.skill}`}
                  </Link>
                ))}
            </p>
          )}
          <Problem error={make.error} />
          <div className="mt-4 flex flex-wrap items-center gap-3">
            <Button type="submit" variant="main" disabled={make.isPending}>{t`Save as PDF`}</Button>
            <Button
              disabled={make.isPending}
              onClick={() => make.mutate({ body: draft, form: "docx" })}
            >{t`Save as a document to change`}</Button>
            {make.isPending && written && (
              <span className="flex min-w-48 flex-1 items-center gap-3">
                <ProgressBar done={written.done} of={written.of} label={t`sheets that are written`} />
              </span>
            )}
            <span role="status" className="text-sm text-graphite">
              {make.isPending
                ? written
                  ? t`${written.done} of ${plural(written.of, { one: "# sheet", other: "# sheets" })}`
                  : t`Beginning…`
                : make.isSuccess && written && t`${plural(written.of, { one: "# sheet", other: "# sheets" })}, saved.`}
            </span>
          </div>
        </form>
      )}
    </Dialog>
  );
}
