import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect, useState } from "react";
import type { SeatPage } from "./api";
import type { ComfortInHand } from "./comfort";
import { Answer } from "./kinds";
import type { Response } from "./kinds/types";
import { Alert, BigButton, focusOnArrival } from "./parts";
import type { Paper } from "./steps";
import { useAnswers } from "./use-answers";
import { useHandIn } from "./use-hand-in";
import { WorkHeader } from "./work-header";

type Props = {
  seat: SeatPage;
  paper: Paper;
  comfort: ComfortInHand;
  onSeat: (seat: SeatPage) => void;
  onLook: () => void;
  onTimeUp: () => void;
  onHandedInHere: () => void;
};

const pointsOf = (response: Response | null | undefined) => (response?.kind === "marks_only" ? response.points : 0);

/** The marks of one's own marked paper, line by line, with the total as it grows. */
export function MarksEntry({ seat, paper, comfort, onSeat, onLook, onTimeUp, onHandedInHere }: Props) {
  const { given, set, outbox } = useAnswers(seat);
  const { says, finish } = useHandIn(outbox, seat.seat, onSeat, onHandedInHere);
  const [busy, setBusy] = useState(false);
  const open = paper.items.filter((line) => !given[line.ref]?.response);
  const total = paper.items.reduce((sum, line) => sum + pointsOf(given[line.ref]?.response), 0);
  useEffect(() => {
    // A refused mark means that entry was closed: ask how things stand.
    if (outbox.refusal) onLook();
  }, [outbox.refusal, onLook]);
  return (
    <div className="mx-auto flex min-h-dvh max-w-xl flex-col bg-page">
      <WorkHeader
        seat={seat}
        outbox={outbox}
        done={paper.items.length - open.length}
        of={paper.items.length}
        comfort={comfort}
        onTimeUp={onTimeUp}
        onSeat={onSeat}
      />
      <main ref={focusOnArrival} tabIndex={-1} className="flex-1 px-4.5 py-5 outline-none">
        <h1 className="font-serif text-2xl leading-snug font-semibold">{paper.title}</h1>
        <p className="mt-1 mb-3 text-graphite">{t`Copy the marks from your marked paper.`}</p>
        <ul>
          {paper.items.map(
            ({ ref, item }) =>
              item.kind === "marks_only" && (
                <li key={ref} className="flex items-center justify-between gap-3 border-b border-hairline py-2">
                  <span className="min-w-0">
                    <strong className="font-serif text-xl">{item.label}</strong>
                    {item.stem && <span className="block text-graphite">{item.stem}</span>}
                  </span>
                  <Answer
                    item={item}
                    name={ref}
                    response={given[ref]?.response ?? null}
                    onRespond={(response) => set(ref, { response })}
                  />
                </li>
              ),
          )}
        </ul>
        <Alert says={says ?? outbox.refusal} />
      </main>
      <footer className="sticky bottom-0 flex items-center justify-between gap-3 border-t border-hairline bg-page px-4.5 py-3.5">
        <span className="text-lg">
          <Trans>
            <strong className="font-serif text-2xl">{total}</strong> of {paper.total_marks}
          </Trans>
          {open.length > 0 && <span className="block text-base text-graphite">{t`${open.length} still empty`}</span>}
        </span>
        <BigButton
          look="main"
          disabled={busy}
          onClick={async () => {
            setBusy(true);
            await finish();
            setBusy(false);
          }}
        >
          {open.length > 0 ? t`Hand in with gaps` : t`Hand in`}
        </BigButton>
      </footer>
    </div>
  );
}
