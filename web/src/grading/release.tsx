import { useState } from "react";
import { useAddress } from "../api/address";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { many } from "../ui/words";
import type { Results, ResultsPage } from "./use-results";

type Props = { results: Results; page: ResultsPage; onClose: () => void };

/** Whether students see their results, and how much of them. */
export function Release({ results, page, onClose }: Props) {
  const { host } = useAddress();
  const [marks, setMarks] = useState(page.released?.marks ?? true);
  const [answers, setAnswers] = useState(page.released?.answers ?? false);
  const empty = page.students.filter((student) => student.total === null).length;
  return (
    <Dialog
      open
      onClose={onClose}
      title={page.released ? "What students see" : "Let students see their results?"}
      says="Each sees their own on their own page, and is told of it. It can be changed and taken back."
    >
      <p className="mb-3 text-sm">
        Their own page: <strong className="wrap-anywhere">{`${host}${page.own_pages}`}</strong>, with their pass. It
        stands on the slips too.
      </p>
      <Checkbox label="With marks and the total; without, in words only" checked={marks} onChange={setMarks} />
      <Checkbox label="With the right answers, and why" checked={answers} onChange={setAnswers} />
      {page.waiting > 0 && (
        <p className="mt-3 text-sm text-ochre">
          ◐ {page.waiting === 1 ? "One answer waits" : `${page.waiting} answers wait`} for a mark. Students are told
          what of theirs is not marked, and see the rest.
        </p>
      )}
      {empty > 0 && (
        <p className="mt-1 text-sm text-graphite">{many(empty, "student")} handed nothing in and see nothing.</p>
      )}
      <p className="mt-5 flex flex-wrap gap-3">
        <Button
          variant="main"
          disabled={results.busy}
          onClick={() => {
            results.release({ marks, answers, seats: null });
            onClose();
          }}
        >
          {page.released ? "Change it" : "Release to all"}
        </Button>
        {page.students.some((student) => student.sees) && page.rule === "released" && (
          <Button
            onClick={() => {
              results.withdraw(null);
              onClose();
            }}
          >
            Take it back from all
          </Button>
        )}
      </p>
    </Dialog>
  );
}
