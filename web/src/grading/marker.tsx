import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useRef, useState } from "react";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { arrows, useKeys } from "../ui/keys";
import { Rich } from "../ui/rich";
import { Region } from "../ui/split-page";
import { amount, namesIn, timeOf } from "../ui/words";
import { Comment } from "./comment";
import { beside, filled, withLevel } from "./comment-lines";
import { nextEmpty, type Typed, type Typing, takeBack, typeDigit } from "./digits";
import { LevelsDialog } from "./levels-dialog";
import { Overall } from "./overall";
import { Practice } from "./practice";
import { RubricMarks } from "./rubric-marks";
import type { At } from "./sequence";
import { Meanwhile, TwoAtOnce } from "./two-at-once";
import { TwoMarks } from "./two-marks";
import type { AnswerPage, MarkingItem, Turn } from "./types";
import { useMark } from "./use-mark";

type Props = {
  sittingId: number;
  turn: Turn;
  item: MarkingItem;
  at: At;
  answer: AnswerPage;
  /** Of the student; empty where names are hidden. */
  name: string;
  onKept: () => void;
};

/** The recto: what this answer earns, by criterion, and what its student is told. */
export function Marker({ sittingId, turn, item, at, answer, name, onKept }: Props) {
  const mark = useMark(sittingId, turn, item, at, answer);
  const { criteria, exemplars } = item.rubric;
  const unset = criteria.findIndex((criterion) => mark.points[criterion.id] === undefined);
  const [typing, setTyping] = useState<Typing>({ at: Math.max(0, unset), typed: "" });
  const [refusal, setRefusal] = useState("");
  const active = typing.at;
  const [shown, setShown] = useState<"exemplars" | "stimulus" | "practice" | "levels" | null>(null);
  const field = useRef<HTMLTextAreaElement>(null);
  const full = criteria.reduce((sum, criterion) => sum + criterion.max, 0);
  const goTo = (place: number) => {
    setRefusal("");
    setTyping({ at: Math.max(0, Math.min(place, criteria.length - 1)), typed: "" });
  };
  const [levelsSpeak, setLevelsSpeak] = useLevelsSpeak();
  const put = (id: string, value: number) => {
    const criterion = criteria.find((one) => one.id === id);
    if (levelsSpeak && criterion) mark.take({ ...mark.points, [id]: value }, withLevel(mark.comment, criterion, value));
    else mark.set(id, value);
  };
  const set = (id: string, value: number) => {
    put(id, value);
    goTo(criteria.findIndex((criterion) => criterion.id === id) + 1);
  };
  const take = (step: Typed) => {
    const criterion = criteria[active];
    if (criterion && step.points !== undefined)
      step.points === null ? mark.unset(criterion.id) : put(criterion.id, step.points);
    setRefusal(step.refusal ?? "");
    setTyping({ at: step.at, typed: step.typed });
  };
  const half = () => {
    // The half belongs to the criterion that was marked last.
    const last = criteria[active] && mark.points[criteria[active].id] !== undefined ? active : active - 1;
    const criterion = criteria[last];
    const value = criterion && mark.points[criterion.id];
    if (criterion && value !== undefined && value + 0.5 <= criterion.max) put(criterion.id, value + 0.5);
  };
  const keep = () => {
    const empty = nextEmpty(active, criteria, mark.points);
    if (empty !== null) return goTo(empty);
    mark.keep();
    onKept();
  };
  useKeys({
    ...Object.fromEntries([..."0123456789"].map((key) => [key, () => take(typeDigit(typing, key, criteria))])),
    ".": half,
    ...arrows({ down: () => goTo(active + 1), up: () => goTo(active - 1) }),
    ...Object.fromEntries([
      ["Enter", keep],
      ["Backspace", () => void (typing.typed && take(takeBack(typing)))],
      [" ", () => goTo(active + 1)],
    ]),
    c: () => field.current?.focus(),
    e: () => exemplars.length > 0 && setShown("exemplars"),
    s: () => item.stimulus && setShown("stimulus"),
  });
  return (
    <>
      {answer.beside.length > 0 && answer.mark && (
        <TwoAtOnce
          sittingId={sittingId}
          turn={turn}
          at={at}
          standing={answer.mark}
          beside={answer.beside}
          onChosen={mark.leave}
        />
      )}
      {mark.meanwhile && answer.beside.length === 0 && <Meanwhile mark={mark.meanwhile} onLeave={mark.leave} />}
      {answer.again && (
        <p role="status" className="mb-4 border-s-2 border-ochre bg-ochre-wash px-3 py-2">
          <Trans>
            <strong>To look at again:</strong> {answer.again}
          </Trans>
        </p>
      )}
      {turn === "agreed" && <TwoMarks criteria={criteria} marks={answer.others} onTake={mark.take} />}
      <Region
        name={t`Rubric`}
        remark={
          <span className="flex gap-3">
            {exemplars.length > 0 && (
              <>
                <Button variant="quiet" onClick={() => setShown("practice")}>{t`Practise`}</Button>
                <Button variant="quiet" keyHint="E" onClick={() => setShown("exemplars")}>{t`Sample answers`}</Button>
              </>
            )}
            {turn === "first" && (
              <Button variant="quiet" onClick={() => setShown("levels")}>{t`Change levels…`}</Button>
            )}
            {item.stimulus && (
              <Button variant="quiet" keyHint="S" onClick={() => setShown("stimulus")}>{t`Stimulus`}</Button>
            )}
          </span>
        }
      >
        <div className="pt-3">
          <RubricMarks
            criteria={criteria}
            points={mark.points}
            active={active}
            onActive={(place) => place !== active && goTo(place)}
            onSet={set}
            onSlide={put}
          />
        </div>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-hairline pt-3">
          <span className="font-serif text-4xl font-semibold text-plum">
            {amount(mark.total, mark.total % 1 ? 1 : 0)}
          </span>
          <span className="text-graphite">{t`of ${amount(full, full % 1 ? 1 : 0)}${mark.complete ? "" : t` so far`}, ${full ? Math.round((100 * mark.total) / full) : 0} of 100`}</span>
          <Button
            variant="main"
            className="ms-auto"
            keyHint={t`Enter`}
            disabled={!mark.complete}
            onClick={keep}
          >{t`Keep and next`}</Button>
        </div>
        {refusal && (
          <p role="alert" className="my-2 text-sm text-ochre">
            {refusal}
          </p>
        )}
        {mark.refusal && (
          <p role="alert" className="my-2 text-sm text-ochre">
            {t`Not taken: ${mark.refusal}`}
          </p>
        )}
        {mark.parked && !mark.meanwhile && answer.mark && (
          <p className="my-2 text-sm text-graphite">
            {t`${answer.mark.by}’s mark stands until you keep yours.`}{" "}
            <Button variant="quiet" onClick={mark.leave}>{t`leave it`}</Button>
          </p>
        )}
      </Region>
      <Comment
        value={mark.comment}
        known={beside(item.comments, item.level_comments, mark.points)}
        field={field}
        fill={(comment) =>
          filled(comment, {
            name,
            mark: t`${amount(mark.total, mark.total % 1 ? 1 : 0)} of ${amount(full, full % 1 ? 1 : 0)}`,
            criterion: (criteria[active] ?? criteria.at(-1))?.name ?? "",
          })
        }
        onChange={mark.say}
        onKeep={keep}
      />
      {criteria.some((one) => one.levels.length > 0) && (
        <Checkbox label={t`The words of a level come by themselves`} checked={levelsSpeak} onChange={setLevelsSpeak} />
      )}
      {/* In a shared pile one answer of a student is seen, and not all of their work. */}
      {turn !== "pile" && <Overall key={at.number} sittingId={sittingId} item={item.ref} answer={answer} />}
      <History answer={answer} />
      <Dialog
        open={shown !== null && shown !== "levels"}
        wide
        onClose={() => setShown(null)}
        title={shown === "stimulus" ? t`Stimulus` : shown === "practice" ? t`Practice` : t`Sample answers`}
      >
        {shown === "stimulus" ? (
          <Rich html={item.stimulus} className="font-serif" />
        ) : shown === "practice" ? (
          <Practice rubric={item.rubric} onDone={() => setShown(null)} />
        ) : (
          exemplars.map((exemplar) => (
            <section key={exemplar.id} className="mb-4 border-s-2 border-hairline ps-4">
              <p className="text-sm font-semibold">
                {t`${exemplar.name || t`A sample answer`}: ${amount(
                  Object.values(exemplar.points ?? {}).reduce((a, b) => a + b, 0),
                  0,
                )} of ${amount(full, 0)}`}
              </p>
              <Rich html={exemplar.text ?? ""} className="font-serif" />
              {exemplar.remark && <p className="text-sm text-graphite">{exemplar.remark}</p>}
            </section>
          ))
        )}
      </Dialog>
      {shown === "levels" && <LevelsDialog sittingId={sittingId} item={item} onClose={() => setShown(null)} />}
    </>
  );
}

const KEY = "levels speak";

/** Whether the words of a level that is given stand in the comment by themselves; kept in this browser. */
function useLevelsSpeak(): [boolean, (on: boolean) => void] {
  const [on, setOn] = useState(() => localStorage.getItem(KEY) === "yes");
  const change = (on: boolean) => {
    localStorage.setItem(KEY, on ? "yes" : "no");
    setOn(on);
  };
  return [on, change];
}

/** Who gave what before, where anybody did. */
function History({ answer }: { answer: AnswerPage }) {
  const earlier = answer.history.filter(
    (one) => one.id !== answer.mark?.id && one.state !== "draft" && one.state !== "aside",
  );
  if (earlier.length === 0) return null;
  return (
    <section aria-label={t`Earlier marks`} className="mt-5 text-sm text-graphite">
      {earlier.map((one) => (
        <p key={one.id}>
          {amount(Object.values(one.points).reduce((sum, value) => sum + value, 0))}, {timeOf(one.at)},{" "}
          {namesIn([one.by])} {one.state === "passed" && t`Not chosen.`}
        </p>
      ))}
    </section>
  );
}
