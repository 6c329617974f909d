import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import type { ResultLine, ResultsPage } from "../grading/use-results";
import { Checkbox } from "../ui/checkbox";
import { Problem } from "../ui/field";
import { Region } from "../ui/split-page";
import { ResultPaper } from "./result-paper";

type Props = { sittingId: number; seat: ResultLine; released: ResultsPage["released"] };

/** A student’s result through their own eyes, released or not. */
export function Eyes({ sittingId, seat, released }: Props) {
  const [marks, setMarks] = useState(released?.marks ?? true);
  const [answers, setAnswers] = useState(released?.answers ?? false);
  const found = useQuery({
    queryKey: ["eyes", sittingId, seat.seat, marks, answers],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/results/seats/{seat_id}", {
          params: { path: { sitting_id: sittingId, seat_id: seat.seat }, query: { marks, answers } },
        }),
      ),
    placeholderData: (before) => before,
  });
  return (
    <Region name={t`As ${seat.name} sees it`} remark={seat.sees ? t`they see it now` : t`they do not see it yet`}>
      <div className="flex flex-wrap gap-x-5 pt-2 pb-4">
        <Checkbox label={t`with marks`} checked={marks} onChange={setMarks} />
        <Checkbox label={t`with the right answers`} checked={answers} onChange={setAnswers} />
      </div>
      <Problem error={found.error} />
      {found.data && (
        <ResultPaper
          result={found.data}
          files={{
            handedIn: `/api/v1/sittings/${sittingId}/marking/handed-in`,
            returned: `/api/v1/sittings/${sittingId}/marking/returned`,
            work: `/api/v1/sittings/${sittingId}/results/seats/${seat.seat}/pictures`,
          }}
          material={(id) => `/api/v1/materials/${id}/file`}
        />
      )}
    </Region>
  );
}
