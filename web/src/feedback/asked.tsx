import { t } from "@lingui/core/macro";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { momentOf } from "../ui/words";

type Props = {
  question: Schemas["ShownQuestion"];
  /** Until when they may ask; nothing where they may not. */
  until: string | null;
  /** Missing where a teacher looks through their eyes. */
  asking:
    | { ask: (item: string, reason: string) => Promise<unknown>; takeBack: (item: string) => Promise<unknown> }
    | undefined;
};

const button = "min-h-11 text-base text-iris underline";

/** What a student asked about a mark, and what their teacher answered; or the way to ask. */
export function Asked({ question, until, asking }: Props) {
  const { asked } = question;
  const [reason, setReason] = useState<string | null>(null);
  const [says, setSays] = useState("");
  const [busy, setBusy] = useState(false);
  const go = (doing: Promise<unknown>) => {
    setBusy(true);
    doing.then(
      () => {
        setReason(null);
        setSays("");
        setBusy(false);
      },
      (error: Error) => {
        setSays(error.message);
        setBusy(false);
      },
    );
  };
  if (asked)
    return (
      <div className="mt-3 border-s-2 border-plum ps-3 text-base">
        <p className="text-graphite">{t`You asked, ${momentOf(asked.at)}`}</p>
        <p dir="auto" className="wrap-anywhere whitespace-pre-line">
          {asked.reason}
        </p>
        {asked.state === "open" ? (
          <p className="text-graphite">
            {t`Your teacher has not answered yet.`}{" "}
            {asking && (
              <button
                type="button"
                className={button}
                disabled={busy}
                onClick={() => go(asking.takeBack(question.item))}
              >{t`Take the question back`}</button>
            )}
          </p>
        ) : (
          <>
            <p className="mt-1 font-semibold">
              {asked.state === "changed"
                ? t`Answered by ${asked.by}. The mark was changed after you asked.`
                : t`Answered by ${asked.by}. The mark was left as it was.`}
            </p>
            <p dir="auto" className="wrap-anywhere whitespace-pre-line">
              {asked.answer}
            </p>
          </>
        )}
        {says && <p role="alert">{says}</p>}
      </div>
    );
  if (!asking || until === null || question.marks === null) return null;
  if (reason === null)
    return (
      <button type="button" className={`${button} mt-1`} data-screen-only onClick={() => setReason("")}>
        {t`Ask to have this mark looked at again`}
        <span className="sr-only">{t`, question ${question.label}`}</span>
      </button>
    );
  return (
    <form
      className="mt-3"
      onSubmit={(event) => {
        event.preventDefault();
        go(asking.ask(question.item, reason));
      }}
    >
      <label className="block text-base">
        {t`What should your teacher look at? You can ask until ${momentOf(until)}, once for each answer.`}
        <textarea
          // biome-ignore lint/a11y/noAutofocus: it was asked for just now
          autoFocus
          dir="auto"
          rows={3}
          maxLength={1000}
          className="mt-1 block w-full border border-edge bg-page p-2 text-lg"
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      {says && <p role="alert">{says}</p>}
      <p className="mt-2 flex gap-4">
        <button
          type="submit"
          disabled={busy || !reason.trim()}
          className="min-h-11 bg-ink px-4 text-base font-semibold text-page disabled:opacity-50"
        >{t`Send the question`}</button>
        <button type="button" className={button} onClick={() => setReason(null)}>{t`Cancel`}</button>
      </p>
    </form>
  );
}
