import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, read } from "../api/client";
import { Answer } from "../student/kinds";
import type { Question } from "../student/kinds/types";
import { StimulusView } from "../student/reading";
import type { Stimulus } from "../student/steps";
import { Rich } from "../ui/rich";

export type OnPaper = { question: Question; stimulus: Stimulus | null };

/** The questions as students will see them, by the item each came from; asked again whenever a change is kept. */
export function usePaper(testId: number, keptAt: Date | null, wanted: boolean): Map<string, OnPaper> {
  const paper = useQuery({
    queryKey: ["preview", testId, keptAt?.getTime() ?? 0],
    queryFn: () => read(api.GET("/api/v1/tests/{test_id}/preview", { params: { path: { test_id: testId } } })),
    placeholderData: (before) => before,
    gcTime: 0,
    enabled: wanted,
  }).data;
  return useMemo(() => {
    if (!paper || !wanted) return new Map();
    // What several questions share stands before the first of them, as on the printed page.
    const seen = new Set<string>();
    return new Map(
      paper.items.map((question) => {
        const stimulus =
          paper.stimuli.find((stimulus) => stimulus.ref === question.stimulus && !seen.has(stimulus.ref)) ?? null;
        if (stimulus) seen.add(stimulus.ref);
        return [question.ref, { question, stimulus }];
      }),
    );
  }, [paper, wanted]);
}

/** A question on the teacher's page, drawn by the student's own parts, smaller and only to look at. */
export function QuestionOnPaper({ question, stimulus }: OnPaper) {
  const { item, ref } = question;
  return (
    <>
      {stimulus && (
        <div className="mb-3 [zoom:0.8]">
          <StimulusView stimulus={stimulus} />
        </div>
      )}
      <Rich html={item.stem} className="font-serif leading-snug whitespace-pre-line" />
      <div className="my-2 [zoom:0.76]" inert>
        <Answer item={item} name={t`shown ${ref}`} response={null} onRespond={() => undefined} />
      </div>
    </>
  );
}
