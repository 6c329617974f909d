import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { local } from "../delivery/plan-form";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { useSay } from "../ui/undo";
import type { RecordPage } from "./record-page";

type Who = Schemas["Homework"]["who"];
type Props = { sittingId: number; record: RecordPage; onClose: () => void };

/** The lesson to take home: its pages and questions as a sitting of their own, until a date. */
export function Homework({ sittingId, record, onClose }: Props) {
  const [who, setWho] = useState<Who>("class");
  const [until, setUntil] = useState(() => inDays(2));
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useSay();
  const missed = record.students.filter((student) => student.answered === 0).length;
  const give = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/room/homework", {
          params: { path: { sitting_id: sittingId } },
          body: { who, closes_at: until ? new Date(until).toISOString() : null },
        }),
      ),
    onSuccess: (given) => {
      void changed(client, "plan");
      say(
        t`Given to ${plural(given.students, { one: "# student", other: "# students" })}; they come in with the code and their pass.`,
      );
      navigate(`/sittings/${given.sitting}`);
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Give as homework`}
      says={t`The same pages and questions, each at their own pace, as a sitting of its own: its results stand beside the lesson’s.`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          give.mutate();
        }}
      >
        <Field label={t`For`}>
          {(id) => (
            <Choice id={id} value={who} onChange={(event) => setWho(event.target.value as Who)}>
              <option value="class">{t`all of ${record.class_name}`}</option>
              <option value="missed" disabled={missed === 0}>{t`those who were not in the lesson (${missed})`}</option>
            </Choice>
          )}
        </Field>
        <Field label={t`Until`} hint={t`It closes by itself then. Leave it empty to close it when you say.`}>
          {(id) => (
            <TextInput id={id} type="datetime-local" value={until} onChange={(event) => setUntil(event.target.value)} />
          )}
        </Field>
        <Problem error={give.error} />
        <Button type="submit" variant="main" disabled={give.isPending}>{t`Give it`}</Button>
      </form>
    </Dialog>
  );
}

/** So many days from now at eight in the morning. */
function inDays(days: number): string {
  const at = new Date();
  at.setDate(at.getDate() + days);
  at.setHours(8, 0);
  return local(at);
}
