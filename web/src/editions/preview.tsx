import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { QuestionView } from "../student/question-view";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";

/** The paper through a student's eyes, with the student's own components. Answers here go nowhere. */
export function Preview({
  testId,
  save,
  onClose,
}: {
  testId: number;
  save: () => Promise<unknown>;
  onClose: () => void;
}) {
  const [at, setAt] = useState(0);
  const [picked, setPicked] = useState<Record<string, string>>({});
  const paper = useQuery({
    queryKey: ["preview", testId],
    queryFn: async () => {
      await save();
      return read(api.GET("/api/tests/{test_id}/preview", { params: { path: { test_id: testId } } }));
    },
    gcTime: 0,
  });
  const question = paper.data?.items[at];
  return (
    <Dialog
      open
      onClose={onClose}
      title="As students see it"
      says="One question at a time, on a phone or a laptop. Nothing you choose here is kept."
    >
      <Problem error={paper.error} />
      {paper.data && question && (
        <div className="border border-hairline p-4">
          <QuestionView
            question={question}
            of={paper.data.items.length}
            picked={picked[question.ref] ?? null}
            onPick={(option) => setPicked({ ...picked, [question.ref]: option })}
          />
          <div className="mt-4 flex justify-between">
            <Button disabled={at === 0} onClick={() => setAt(at - 1)}>
              Back
            </Button>
            <Button look="main" disabled={at === paper.data.items.length - 1} onClick={() => setAt(at + 1)}>
              Next
            </Button>
          </div>
        </div>
      )}
      <div className="mt-4 text-right">
        <Button onClick={onClose}>Close</Button>
      </div>
    </Dialog>
  );
}
