import { useEffect, useMemo, useRef, useState } from "react";
import { Rich } from "../ui/rich";
import type { SeatPage } from "./api";
import { takesAnAnswer } from "./kinds";
import { Alert, BigButton } from "./parts";
import { QuestionList } from "./question-list";
import { QuestionView } from "./question-view";
import { SectionHead, StimulusView, TeachingPage } from "./reading";
import { type Paper, stepsOf } from "./steps";
import { useAnswers } from "./use-answers";
import { useHandIn } from "./use-hand-in";
import { WorkHeader } from "./work-header";

type Props = { seat: SeatPage; paper: Paper; onSeat: (seat: SeatPage) => void; onLook: () => void };

/** At work: one step at a time, the whole list one tap away. */
export function Working({ seat, paper, onSeat, onLook }: Props) {
  const { given, set, outbox } = useAnswers(seat);
  const steps = useMemo(() => stepsOf(paper), [paper]);
  const [at, setAt] = useState(() => {
    const open = steps.findIndex((step) => "question" in step && !given[step.question.ref]?.response);
    return steps.some((step) => "question" in step && given[step.question.ref]) ? Math.max(0, open) : 0;
  });
  const [listing, setListing] = useState(false);
  const { says, finish } = useHandIn(outbox, onSeat);
  const top = useRef<HTMLDivElement>(null);
  const step = steps[at];
  const questions = paper.items.filter(({ item }) => takesAnAnswer(item));
  const answered = questions.filter((item) => given[item.ref]?.response).length;
  useEffect(() => {
    // A refused answer means that the test was paused or closed: ask how things stand.
    if (outbox.refusal) onLook();
  }, [outbox.refusal, onLook]);
  const go = (place: number) => {
    setAt(place);
    setListing(false);
    top.current?.focus();
    scrollTo(0, 0);
  };
  if (!step) return null;
  const last = at === steps.length - 1;
  const stimulus = "question" in step ? step.stimulus : null;
  return (
    <div className={`mx-auto flex min-h-dvh flex-col bg-page ${stimulus ? "max-w-6xl" : "max-w-2xl"}`}>
      <WorkHeader name={seat.student} outbox={outbox} done={answered} of={questions.length} />
      <main ref={top} tabIndex={-1} className="flex-1 px-4.5 py-6 outline-none">
        <h1 className="sr-only">{paper.title}</h1>
        {listing ? (
          <QuestionList
            paper={paper}
            given={given}
            at={"question" in step ? step.question.ref : ""}
            says={says}
            onGo={(ref) => go(steps.findIndex((one) => "question" in one && one.question.ref === ref))}
            onHandIn={finish}
          />
        ) : (
          <>
            {at === 0 && paper.instructions && (
              <Rich html={paper.instructions} className="mb-5 border-l-2 border-hairline pl-3 text-graphite" />
            )}
            {"page" in step ? (
              <TeachingPage page={step.page} />
            ) : (
              <>
                {step.section && <SectionHead section={step.section} />}
                <div className={stimulus ? "grid gap-8 lg:grid-cols-2" : ""}>
                  {stimulus && <StimulusView stimulus={stimulus} />}
                  <div className="min-w-0">
                    <QuestionView
                      key={step.question.ref}
                      question={step.question}
                      of={paper.items.length}
                      response={given[step.question.ref]?.response ?? null}
                      readAloud={seat.needs.read_aloud}
                      onRespond={(response) => set(step.question.ref, { response })}
                    />
                    {takesAnAnswer(step.question.item) && (
                      <label className="mt-3 flex min-h-11 items-center gap-2.5 text-graphite">
                        <input
                          type="checkbox"
                          className="size-5 accent-[var(--ink)]"
                          checked={given[step.question.ref]?.comeBack ?? false}
                          onChange={(event) => set(step.question.ref, { comeBack: event.target.checked })}
                        />
                        Come back to this one
                      </label>
                    )}
                  </div>
                </div>
              </>
            )}
            <Alert says={outbox.refusal} />
          </>
        )}
      </main>
      <footer className="sticky bottom-0 flex justify-between gap-2.5 border-t border-hairline bg-page px-4.5 py-3.5">
        <span className="flex gap-2.5">
          <BigButton disabled={at === 0 || listing} onClick={() => go(at - 1)}>
            Back
          </BigButton>
          <BigButton aria-expanded={listing} onClick={() => setListing(!listing)}>
            {listing ? `To ${"question" in step ? step.question.number : "the page"}` : `All ${paper.items.length}`}
          </BigButton>
        </span>
        {!listing && (
          <BigButton look="main" onClick={() => (last ? setListing(true) : go(at + 1))}>
            {last ? "Review" : "Next"}
          </BigButton>
        )}
      </footer>
    </div>
  );
}
