import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextArea } from "../ui/field";
import { Tick } from "../ui/tick";
import { begun } from "../ui/words";

type Body = Schemas["FeedbackBody"];

/** Personal feedback sheets: what they say, the question to ask again for each skill, and the sheets themselves. */
export function Feedback({ sittingId, onClose }: { sittingId: number; onClose: () => void }) {
  const client = useQueryClient();
  const path = { sitting_id: sittingId };
  const key = ["feedback", sittingId];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/sittings/{sitting_id}/results/feedback", { params: { path } })),
    // The form holds the newest of it while it is open.
    refetchOnWindowFocus: false,
  });
  const [draft, setDraft] = useState<Body | null>(null);
  useEffect(() => {
    if (found.data) setDraft((now) => now ?? found.data);
  }, [found.data]);
  const make = useMutation({
    mutationFn: async (body: Body) => {
      const { intro, closing, marks, secure, nearly, follow_ups } = body;
      const kept = await read(
        api.PUT("/api/sittings/{sitting_id}/results/feedback", {
          params: { path },
          body: { intro, closing, marks, secure, nearly, follow_ups },
        }),
      );
      client.setQueryData(key, kept);
      const file = await fetch(`/api/sittings/${sittingId}/results/feedback.pdf`);
      if (!file.ok) throw new Error((await file.json()).says);
      return URL.createObjectURL(await file.blob());
    },
  });
  const set = (part: Partial<Body>) => draft && setDraft({ ...draft, ...part });
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title="Feedback sheets"
      says="One for each student: their skills, and a question for each that is not secure yet. A last page for you has all questions with their answers."
    >
      <Problem error={found.error} />
      {draft && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate(draft);
          }}
        >
          <Field label="What it says first">
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
          <Field label="What it says at the end">
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
          <Tick label="With the marks" checked={draft.marks} onChange={(marks) => set({ marks })} />
          <p className="mt-4 mb-1 font-semibold">Ask again</p>
          {found.data?.lines.map((line) => (
            <Field
              key={line.skill}
              label={line.skill}
              {...(line.choices.length === 0 && {
                hint: "No finished question of the bank tests it besides those of the test.",
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
                  <option value="">no question</option>
                  {line.choices.map((one) => (
                    <option key={one.item} value={one.item}>
                      {begun(one.stem, 80)}
                    </option>
                  ))}
                </Choice>
              )}
            </Field>
          ))}
          <Problem error={make.error} />
          <div className="mt-4 flex flex-wrap items-center gap-3">
            <Button type="submit" look="main" disabled={make.isPending}>
              {make.isPending ? "Making them, some seconds a class…" : "Make the sheets"}
            </Button>
            {make.data && !make.isPending && (
              <a className="underline underline-offset-2" href={make.data} download="feedback sheets.pdf">
                Save the PDF
              </a>
            )}
          </div>
        </form>
      )}
    </Dialog>
  );
}
