import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import type { Response } from "../student/kinds/types";
import { QuestionView } from "../student/question-view";
import { SectionHead, StimulusView, TeachingPage } from "../student/reading";
import { stepsOf } from "../student/steps";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";

type Props = { testId: number; save: () => Promise<unknown>; onClose: () => void };

/** The paper through a student's eyes, with the student's own components. Answers here go nowhere. */
export function Preview({ testId, save, onClose }: Props) {
  const [at, setAt] = useState(0);
  const [given, setGiven] = useState<Record<string, Response | null>>({});
  const paper = useQuery({
    queryKey: ["preview", testId],
    queryFn: async () => {
      await save();
      return read(api.GET("/api/v1/tests/{test_id}/preview", { params: { path: { test_id: testId } } }));
    },
    gcTime: 0,
  });
  const steps = paper.data ? stepsOf(paper.data) : [];
  const step = steps[at];
  return (
    <Dialog
      open
      onClose={onClose}
      wide
      title={t`As students see it`}
      says={t`One question at a time, on a phone or a laptop. Nothing you answer here is kept.`}
    >
      <Problem error={paper.error} />
      {paper.data && step && (
        <div className="border border-hairline p-4">
          {"page" in step ? (
            <TeachingPage page={step.page} />
          ) : (
            <>
              {step.section && <SectionHead section={step.section} />}
              {step.stimulus && (
                <div className="mb-5">
                  <StimulusView stimulus={step.stimulus} />
                </div>
              )}
              <QuestionView
                key={step.question.ref}
                question={step.question}
                of={paper.data.items.length}
                response={given[step.question.ref] ?? null}
                onRespond={(response) => setGiven((now) => ({ ...now, [step.question.ref]: response }))}
              />
            </>
          )}
          <div className="mt-4 flex justify-between">
            <Button disabled={at === 0} onClick={() => setAt(at - 1)}>{t`Back`}</Button>
            <Button variant="main" disabled={at === steps.length - 1} onClick={() => setAt(at + 1)}>{t`Next`}</Button>
          </div>
        </div>
      )}
      <div className="mt-4 text-end">
        <Button onClick={onClose}>{t`Close`}</Button>
      </div>
    </Dialog>
  );
}
