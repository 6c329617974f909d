import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import type { Response } from "../student/kinds/types";
import { QuestionView } from "../student/question-view";
import { StimulusView } from "../student/reading";
import { Problem } from "../ui/field";

/** A colleague's question through a student's eyes, with its key. What is answered here goes nowhere. */
export function SharedLook({ id }: { id: string }) {
  const [given, setGiven] = useState<Response | null>(null);
  const page = useQuery({
    queryKey: ["shared-item", id],
    queryFn: () => read(api.GET("/api/v1/items/shared/{item_id}", { params: { path: { item_id: id } } })),
  });
  if (!page.data) return <Problem error={page.error} />;
  return (
    <div className="mt-2 border border-hairline p-4">
      {page.data.passage && <StimulusView stimulus={{ ref: id, title: "", body: page.data.passage }} />}
      <QuestionView
        question={{ ref: id, number: 1, section: 0, item: page.data.seen }}
        of={1}
        response={given}
        onRespond={setGiven}
      />
      {page.data.key && <p className="pt-3 text-sm">{t`Key: ${page.data.key}`}</p>}
    </div>
  );
}
