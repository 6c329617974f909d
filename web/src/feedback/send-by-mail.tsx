import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextArea, TextInput } from "../ui/field";
import { useSay } from "../ui/undo";
import { namesIn } from "../ui/words";

type Body = Schemas["MailBody"];
const WHAT: Record<Body["carries"], string> = {
  feedback: t`the feedback sheet of this test`,
  report: t`the report on the year, for parents`,
};
const WHOM: Record<Body["to"], string> = {
  student: t`the students`,
  guardian: t`their guardians`,
  self: t`myself, to see them first`,
};

/** Reports by mail: what goes to whom, as the first of them gets it, and who has no address. */
export function SendByMail({ sittingId, onClose }: { sittingId: number; onClose: () => void }) {
  const [body, setBody] = useState<Body>({ carries: "feedback", to: "student", subject: "", body: "" });
  const say = useSay();
  const params = { path: { sitting_id: sittingId } };
  const preview = useQuery({
    queryKey: ["mail", sittingId, "preview", body],
    queryFn: () => read(api.POST("/api/v1/sittings/{sitting_id}/mail/preview", { params, body })),
    placeholderData: (before) => before,
  });
  const sent = useQuery({
    queryKey: ["mail", sittingId],
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/mail", { params })),
  });
  const send = useMutation({
    mutationFn: () => read(api.POST("/api/v1/sittings/{sitting_id}/mail", { params, body })),
    onSuccess: () => {
      say(t`${plural(found?.letters.length ?? 0, { one: "# letter", other: "# letters" })} in the post.`);
      onClose();
    },
  });
  const found = preview.data;
  const failed = sent.data?.filter((one) => one.state === "failed") ?? [];
  return (
    <Dialog open wide onClose={onClose} title={t`Send by mail`} says={t`Each gets one letter with one PDF, their own.`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          send.mutate();
        }}
      >
        <div className="grid gap-x-5 sm:grid-cols-2">
          <Field label={t`What`}>
            {(id) => (
              <Choice
                id={id}
                value={body.carries}
                // Each has its own letter to begin with.
                onChange={(event) =>
                  setBody({ ...body, carries: event.target.value as Body["carries"], subject: "", body: "" })
                }
              >
                <Options of={WHAT} />
              </Choice>
            )}
          </Field>
          <Field label={t`To`}>
            {(id) => (
              <Choice
                id={id}
                value={body.to}
                onChange={(event) => setBody({ ...body, to: event.target.value as Body["to"] })}
              >
                <Options of={WHOM} />
              </Choice>
            )}
          </Field>
        </div>
        <Field label={t`Subject`}>
          {(id) => (
            <TextInput
              id={id}
              maxLength={200}
              value={body.subject || found?.asked_subject || ""}
              onChange={(event) => setBody({ ...body, subject: event.target.value })}
            />
          )}
        </Field>
        <Field label={t`Letter`} hint={t`{name} becomes the first name of each, {test} the title of the test.`}>
          {(id) => (
            <TextArea
              id={id}
              rows={4}
              maxLength={4000}
              value={body.body || found?.asked_body || ""}
              onChange={(event) => setBody({ ...body, body: event.target.value })}
            />
          )}
        </Field>
        {found && (
          <section aria-label={t`What goes out`} className="mb-4 border-s-2 border-iris bg-iris-wash px-4 py-2 text-sm">
            <strong>{`${plural(found.letters.length, { one: "# letter", other: "# letters" })}.`}</strong>{" "}
            {found.letters[0] && t`The first, to ${found.letters[0].address}:`}
            {found.letters.length > 0 && (
              <blockquote className="mt-1 whitespace-pre-line">
                <strong>{found.subject}</strong>
                {`\n${found.body}`}
              </blockquote>
            )}
            {found.without.length > 0 && (
              <p className="mt-2 text-clay">{t`◆ No address: ${namesIn(found.without.map((one) => one.name))}`}</p>
            )}
          </section>
        )}
        {failed.length > 0 && (
          <p className="mb-3 text-sm text-clay">
            {t`◆ Could not be sent before: ${namesIn(failed.map((one) => `${one.name} (${one.problem})`))}`}
          </p>
        )}
        <Problem error={preview.error ?? send.error} />
        <Button type="submit" variant="main" disabled={!found?.letters.length || send.isPending}>
          {t`Send ${plural(found?.letters.length ?? 0, { one: "# letter", other: "# letters" })}`}
        </Button>
      </form>
    </Dialog>
  );
}

function Options({ of }: { of: Record<string, string> }) {
  return Object.entries(of).map(([name, words]) => (
    <option key={name} value={name}>
      {words}
    </option>
  ));
}
