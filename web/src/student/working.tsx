import { t } from "@lingui/core/macro";
import { useEffect, useMemo, useRef, useState } from "react";
import { Rich } from "../ui/rich";
import type { SeatPage } from "./api";
import type { ComfortInHand } from "./comfort";
import { takesAnAnswer } from "./kinds";
import type { Given } from "./on-this-device";
import { Alert, BigButton } from "./parts";
import { QuestionList } from "./question-list";
import { QuestionView } from "./question-view";
import { SectionHead, StimulusView, TeachingPage } from "./reading";
import { type Paper, type Step, stepsOf } from "./steps";
import { useAnswers } from "./use-answers";
import { useHandIn } from "./use-hand-in";
import { useSigns } from "./use-signs";
import { WorkHeader } from "./work-header";

type QuestionStep = Extract<Step, { section: unknown }>;
type Props = {
  seat: SeatPage;
  paper: Paper;
  comfort: ComfortInHand;
  onSeat: (seat: SeatPage) => void;
  onLook: () => void;
  onTimeUp: () => void;
  onHandedInHere: () => void;
};

/** At work: one step at a time with the whole list one tap away, or all questions on one page. */
export function Working({ seat, paper, comfort, onSeat, onLook, onTimeUp, onHandedInHere }: Props) {
  const { all_at_once, going_back, formula_sheet } = seat.rules;
  const { given, set, outbox } = useAnswers(seat);
  const steps = useMemo(() => stepsOf(paper), [paper]);
  const [at, setAt] = useState(() => {
    const open = steps.findIndex((step) => "question" in step && !given[step.question.ref]?.response);
    return steps.some((step) => "question" in step && given[step.question.ref]) ? Math.max(0, open) : 0;
  });
  const [listing, setListing] = useState(false);
  const { says, finish } = useHandIn(outbox, seat.seat, onSeat, onHandedInHere);
  const top = useRef<HTMLDivElement>(null);
  const step = steps[at];
  // Whoever came in by keyboard is at the first question, and not at the head of the browser.
  useEffect(() => top.current?.focus({ preventScroll: true }), []);
  useSigns(seat.seat, step && "question" in step && !listing && !all_at_once ? step.question.ref : "", outbox);
  const questions = paper.items.filter(({ item }) => takesAnAnswer(item));
  const answered = questions.filter((item) => given[item.ref]?.response).length;
  useEffect(() => {
    // A refused answer means that the test was paused or closed: ask how things stand.
    if (outbox.refusal) onLook();
  }, [outbox.refusal, onLook]);
  const toTop = () => {
    top.current?.focus();
    scrollTo(0, 0);
  };
  const go = (place: number) => {
    setAt(place);
    setListing(false);
    toTop();
  };
  const review = () => {
    setListing(true);
    toTop();
  };
  if (!step) return null;
  const last = at === steps.length - 1;
  const stimulus = "question" in step ? step.stimulus : null;
  const wide = stimulus || all_at_once;
  const ask = (one: QuestionStep) => (
    <AskedQuestion
      key={one.question.ref}
      step={one}
      of={paper.items.length}
      given={given[one.question.ref]}
      seat={seat}
      onSet={(part) => set(one.question.ref, part)}
    />
  );
  const list = (
    <QuestionList
      paper={paper}
      given={given}
      at={"question" in step ? step.question.ref : ""}
      says={says}
      onGo={
        going_back
          ? (ref) =>
              all_at_once
                ? document.getElementById(ref)?.scrollIntoView()
                : go(steps.findIndex((step) => "question" in step && step.question.ref === ref))
          : null
      }
      onHandIn={finish}
      canTakeBack={seat.rules.take_back}
    />
  );
  return (
    <div className={`mx-auto flex min-h-dvh flex-col bg-page ${wide ? "max-w-6xl" : "max-w-2xl"}`}>
      <WorkHeader
        seat={seat}
        outbox={outbox}
        done={answered}
        of={questions.length}
        comfort={comfort}
        onTimeUp={onTimeUp}
        onSeat={onSeat}
      />
      <main ref={top} tabIndex={-1} className="flex-1 px-4.5 py-6 outline-none">
        <h1 className="sr-only">{paper.title}</h1>
        {seat.returned_with && (
          <p className="mb-5 border-s-2 border-iris bg-iris-wash px-4 py-3 text-lg">
            <strong className="block text-base">{t`Your teacher gave this back to you:`}</strong>
            {seat.returned_with}
          </p>
        )}
        {formula_sheet && (
          <details className="mb-5 border-s-2 border-edge bg-page-2 px-4 py-2">
            <summary className="min-h-8 font-semibold">{t`Formula sheet`}</summary>
            <Rich html={formula_sheet} className="py-2 font-serif text-lg whitespace-pre-line" />
          </details>
        )}
        {(at === 0 || all_at_once) && !listing && paper.instructions && (
          <Rich html={paper.instructions} className="mb-5 border-s-2 border-hairline ps-3 text-graphite" />
        )}
        {all_at_once ? (
          <>
            {steps.map((step, place) =>
              "page" in step ? (
                // biome-ignore lint/suspicious/noArrayIndexKey: pages stand where they stand
                <TeachingPage key={place} page={step.page} />
              ) : (
                <div key={step.question.ref} id={step.question.ref} className="mb-10 scroll-mt-24">
                  {ask(step)}
                </div>
              ),
            )}
            {list}
          </>
        ) : listing ? (
          list
        ) : "page" in step ? (
          <TeachingPage page={step.page} />
        ) : (
          ask(step)
        )}
        <Alert says={outbox.refusal} />
      </main>
      {/* Larger text stays on the phone: what leads on is never wider than it, and grows with it up to its width. */}
      <footer className="sticky bottom-0 flex flex-wrap justify-between gap-[min(0.625rem,2vw)] border-t border-hairline bg-page px-[min(1.125rem,3.5vw)] py-[min(0.875rem,3vw)] [&_button]:px-[min(1.125rem,3.5vw)] [&_button]:text-[length:min(1.125rem,5.2vw)]">
        <span className="flex gap-[min(0.625rem,2vw)]">
          {!all_at_once && going_back && (
            <>
              <BigButton disabled={at === 0 || listing} onClick={() => go(at - 1)}>{t`Back`}</BigButton>
              <BigButton aria-expanded={listing} onClick={() => setListing(!listing)}>
                {listing
                  ? t`To ${"question" in step ? step.question.number : t`the page`}`
                  : t`All ${paper.items.length}`}
              </BigButton>
            </>
          )}
        </span>
        {!going_back && !listing && <span className="self-center text-graphite">{t`You cannot come back.`}</span>}
        {!listing && !all_at_once && (
          <BigButton look="main" onClick={() => (last ? review() : go(at + 1))}>
            {last ? t`Review` : t`Next`}
          </BigButton>
        )}
      </footer>
    </div>
  );
}

type AskedProps = {
  step: QuestionStep;
  of: number;
  given: Given | undefined;
  seat: SeatPage;
  onSet: (part: Partial<Given>) => void;
};

/** A question with what it is about beside it, and the mark to come back to it. */
function AskedQuestion({ step: { question, section, stimulus }, of, given, seat, onSet }: AskedProps) {
  return (
    <>
      {section && <SectionHead section={section} />}
      <div className={stimulus ? "grid gap-8 lg:grid-cols-2" : ""}>
        {stimulus && <StimulusView stimulus={stimulus} />}
        <div className="min-w-0">
          <QuestionView
            question={question}
            of={of}
            response={given?.response ?? null}
            readAloud={seat.needs.read_aloud}
            stimulus={stimulus}
            onRespond={(response) => onSet({ response })}
          />
          {takesAnAnswer(question.item) && seat.rules.going_back && (
            <label className="mt-3 flex min-h-11 items-center gap-2.5 text-graphite">
              <input
                type="checkbox"
                className="size-5 accent-[var(--ink)]"
                checked={given?.comeBack ?? false}
                onChange={(event) => onSet({ comeBack: event.target.checked })}
              />
              {t`Come back to this one`}
            </label>
          )}
        </div>
      </div>
    </>
  );
}
