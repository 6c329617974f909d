import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import type { SeatPage } from "./api";
import { signOf, takesAnAnswer } from "./kinds";
import type { Given } from "./on-this-device";
import { Alert, BigButton } from "./parts";

type Props = {
  paper: NonNullable<SeatPage["paper"]>;
  given: Record<string, Given>;
  /** The ref of the question one comes from. */
  at: string;
  says: string | null;
  /** Null where there is no going back. */
  onGo: ((ref: string) => void) | null;
  onHandIn: () => Promise<void>;
  canTakeBack: boolean;
};

/** The whole list, and the way to hand in: what is open is said before, not after. */
export function QuestionList({ paper, given, at, says, onGo, onHandIn, canTakeBack }: Props) {
  const [busy, setBusy] = useState(false);
  const open = paper.items
    .filter(({ ref, item }) => takesAnAnswer(item) && !given[ref]?.response)
    .map((item) => item.number);
  const back = paper.items.filter((item) => given[item.ref]?.comeBack).map((item) => item.number);
  return (
    <>
      <h2 className="font-serif text-2xl font-semibold">{t`All ${paper.items.length} questions`}</h2>
      <ul className="mt-4 grid grid-cols-4 gap-2.5 sm:grid-cols-6">
        {paper.items.map((item) => {
          const answer = given[item.ref];
          const sign = signOf(answer?.response ?? null, item.item);
          const here = item.ref === at;
          const nothing = takesAnAnswer(item.item) ? "–" : "";
          return (
            <li key={item.ref}>
              <button
                type="button"
                aria-current={here}
                disabled={!onGo}
                onClick={() => onGo?.(item.ref)}
                className={`relative flex h-16 w-full flex-col items-center justify-center rounded-xs border ${here ? "border-2 border-iris" : "border-edge/60"} ${sign ? "bg-page-2" : ""}`}
              >
                <span className="text-sm text-graphite">
                  <span className="sr-only">{t`Question`} </span>
                  {item.number}
                </span>
                <span
                  className={`max-w-full truncate font-serif leading-none font-semibold ${sign.length > 3 ? "text-sm" : "text-xl"}`}
                >
                  <span className="sr-only">
                    {sign ? t`: answered ` : nothing ? t`: no answer` : t`: nothing to hand in`}
                  </span>
                  {sign || <span aria-hidden="true">{nothing}</span>}
                </span>
                {answer?.comeBack && (
                  <span className="absolute top-1 end-1.5 text-ochre">
                    ◐<span className="sr-only">{t`, to come back to`}</span>
                  </span>
                )}
              </button>
            </li>
          );
        })}
      </ul>
      <div className="mt-6 text-lg">
        {open.length > 0 ? (
          <p>
            <Trans>
              No answer yet: <strong>{open.join(", ")}</strong>
            </Trans>
          </p>
        ) : (
          <p>{t`Every question has an answer.`}</p>
        )}
        {back.length > 0 && (
          <p className="text-ochre">
            <Trans>
              ◐ You wanted to come back to: <strong>{back.join(", ")}</strong>
            </Trans>
          </p>
        )}
      </div>
      <Alert says={says} />
      <BigButton
        look="main"
        className="mt-5 w-full"
        disabled={busy}
        onClick={async () => {
          setBusy(true);
          await onHandIn();
          setBusy(false);
        }}
      >
        {open.length > 0 ? t`Hand in with ${open.length} unanswered` : t`Hand in`}
      </BigButton>
      <p className="mt-2 text-graphite">
        {canTakeBack ? t`You can take it back while the test is open.` : t`After that you cannot change your answers.`}
      </p>
    </>
  );
}
