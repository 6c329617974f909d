import { t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextArea, TextInput } from "../ui/field";

type Test = Schemas["TestPage"];
type Props = { test: Test; onKept: (test: Test) => void; onClose: () => void };

/** Puts a test on the shelf, where colleagues find it by topic and copy it into their own bank. */
export function ShareDialog({ test, onKept, onClose }: Props) {
  const [topic, setTopic] = useState(test.topic);
  const [summary, setSummary] = useState(test.summary);
  const client = useQueryClient();
  const share = useMutation({
    mutationFn: (shared: boolean) =>
      read(
        api.PUT("/api/v1/tests/{test_id}/sharing", {
          params: { path: { test_id: test.id } },
          body: { shared, topic, summary },
        }),
      ),
    onSuccess: (page) => {
      void changed(client, "shelf");
      onKept(page);
      onClose();
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`On the shelf`}
      says={t`Colleagues of your school find it there and copy it into their own bank. Your test stays yours.`}
    >
      <Field label={t`Topic`}>
        {(id) => <TextInput id={id} maxLength={120} value={topic} onChange={(event) => setTopic(event.target.value)} />}
      </Field>
      <Field label={t`What it is for, in a line or two`}>
        {(id) => (
          <TextArea
            id={id}
            rows={2}
            maxLength={500}
            value={summary}
            onChange={(event) => setSummary(event.target.value)}
          />
        )}
      </Field>
      <Problem error={share.error} />
      <div className="flex gap-3">
        <Button variant="main" disabled={share.isPending} onClick={() => share.mutate(true)}>
          {test.shared ? t`Keep it there` : t`Put it on the shelf`}
        </Button>
        {test.shared && <Button onClick={() => share.mutate(false)}>{t`Take it off the shelf`}</Button>}
      </div>
    </Dialog>
  );
}
