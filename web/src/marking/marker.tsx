import { useRef, useState } from "react";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { arrows, useKeys } from "../ui/keys";
import { Rich } from "../ui/rich";
import { Region } from "../ui/spread";
import { amount, namesIn, timeOf } from "../ui/words";
import { Comment } from "./comment";
import { Overall } from "./overall";
import { Practice } from "./practice";
import { RubricMarks } from "./rubric-marks";
import type { At } from "./sequence";
import { TwoMarks } from "./two-marks";
import { useMark } from "./use-mark";
import type { AnswerPage, MarkingItem, Turn } from "./use-marking";

type Props = {
  sittingId: number;
  turn: Turn;
  item: MarkingItem;
  at: At;
  answer: AnswerPage;
  onKept: () => void;
  onTrouble: (says: string, at: At) => void;
};

/** The recto: what this answer earns, by criterion, and what its student is told. */
export function Marker({ sittingId, turn, item, at, answer, onKept, onTrouble }: Props) {
  const mark = useMark(sittingId, turn, item, at, answer, onTrouble);
  const { criteria, exemplars } = item.rubric;
  const unset = criteria.findIndex((criterion) => mark.points[criterion.id] === undefined);
  const [active, setActive] = useState(Math.max(0, unset));
  const [shown, setShown] = useState<"exemplars" | "stimulus" | "practice" | null>(null);
  const field = useRef<HTMLTextAreaElement>(null);
  const full = criteria.reduce((sum, criterion) => sum + criterion.max, 0);
  const set = (id: string, value: number) => {
    mark.set(id, value);
    const place = criteria.findIndex((criterion) => criterion.id === id);
    setActive(Math.min(place + 1, criteria.length - 1));
  };
  const digit = (value: number) => {
    const criterion = criteria[active];
    if (criterion && value <= criterion.max) set(criterion.id, value);
  };
  const half = () => {
    // The half belongs to the criterion that was marked last.
    const last = criteria[active] && mark.points[criteria[active].id] !== undefined ? active : active - 1;
    const criterion = criteria[last];
    const value = criterion && mark.points[criterion.id];
    if (criterion && value !== undefined && value + 0.5 <= criterion.max) mark.set(criterion.id, value + 0.5);
  };
  const keep = () => {
    if (!mark.complete) return;
    mark.keep();
    onKept();
  };
  useKeys({
    ...Object.fromEntries([...Array(10).keys()].map((value) => [String(value), () => digit(value)])),
    ".": half,
    ...arrows({
      down: () => setActive(Math.min(active + 1, criteria.length - 1)),
      up: () => setActive(Math.max(active - 1, 0)),
    }),
    ...Object.fromEntries([["Enter", keep]]),
    c: () => field.current?.focus(),
    e: () => exemplars.length > 0 && setShown("exemplars"),
    s: () => item.stimulus && setShown("stimulus"),
  });
  return (
    <>
      {turn === "agreed" && <TwoMarks criteria={criteria} marks={answer.others} onTake={mark.take} />}
      <Region
        name="Rubric"
        remark={
          <span className="flex gap-3">
            {exemplars.length > 0 && (
              <>
                <Button look="quiet" onClick={() => setShown("practice")}>
                  Practise
                </Button>
                <Button look="quiet" cap="E" onClick={() => setShown("exemplars")}>
                  Sample answers
                </Button>
              </>
            )}
            {item.stimulus && (
              <Button look="quiet" cap="S" onClick={() => setShown("stimulus")}>
                Stimulus
              </Button>
            )}
          </span>
        }
      >
        <div className="pt-3">
          <RubricMarks criteria={criteria} points={mark.points} active={active} onActive={setActive} onSet={set} />
        </div>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-hairline pt-3">
          <span className="font-serif text-4xl font-semibold text-plum">
            {amount(mark.total, mark.total % 1 ? 1 : 0)}
          </span>
          <span className="text-graphite">
            of {amount(full, full % 1 ? 1 : 0)}
            {mark.complete ? "" : " so far"}, {full ? Math.round((100 * mark.total) / full) : 0} of 100
          </span>
          <Button look="main" className="ml-auto" cap="Enter" disabled={!mark.complete} onClick={keep}>
            Keep and next
          </Button>
        </div>
        <Problem error={mark.error} />
        {mark.other && (
          <div role="alert" className="my-3 border-l-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
            ◐ {mark.other.by} gave {amount(Object.values(mark.other.points).reduce((sum, value) => sum + value, 0))}{" "}
            while you were at it, at {timeOf(mark.other.at)}. Yours is kept beside it and does not count.{" "}
            <Button look="quiet" onClick={mark.keep}>
              put mine in its place
            </Button>
          </div>
        )}
      </Region>
      <Comment value={mark.comment} known={item.comments} field={field} onChange={mark.say} onKeep={keep} />
      <Overall sittingId={sittingId} number={at.number} value={answer.overall} onSaid={mark.saidOverall} />
      <History answer={answer} />
      <Dialog
        open={shown !== null}
        wide
        onClose={() => setShown(null)}
        title={shown === "stimulus" ? "Stimulus" : shown === "practice" ? "Practice" : "Sample answers"}
      >
        {shown === "stimulus" ? (
          <Rich html={item.stimulus} className="font-serif" />
        ) : shown === "practice" ? (
          <Practice rubric={item.rubric} onDone={() => setShown(null)} />
        ) : (
          exemplars.map((exemplar) => (
            <section key={exemplar.id} className="mb-4 border-l-2 border-hairline pl-4">
              <p className="text-sm font-semibold">
                {exemplar.name || "A sample answer"}:{" "}
                {amount(
                  Object.values(exemplar.points ?? {}).reduce((a, b) => a + b, 0),
                  0,
                )}{" "}
                of {amount(full, 0)}
              </p>
              <Rich html={exemplar.text ?? ""} className="font-serif" />
              {exemplar.remark && <p className="text-sm text-graphite">{exemplar.remark}</p>}
            </section>
          ))
        )}
      </Dialog>
    </>
  );
}

/** Who gave what before, where anybody did. */
function History({ answer }: { answer: AnswerPage }) {
  const earlier = answer.history.filter((one) => one.id !== answer.mark?.id && one.state !== "draft");
  if (earlier.length === 0) return null;
  return (
    <section aria-label="Earlier marks" className="mt-5 text-sm text-graphite">
      {earlier.map((one) => (
        <p key={one.id}>
          {amount(Object.values(one.points).reduce((sum, value) => sum + value, 0))}, {timeOf(one.at)},{" "}
          {namesIn([one.by])} {one.state === "aside" && "Kept aside."}
        </p>
      ))}
    </section>
  );
}
