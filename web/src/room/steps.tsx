import { t } from "@lingui/core/macro";
import { Button } from "../ui/button";
import { Choice, Field } from "../ui/field";
import { Region } from "../ui/split-page";
import type { ConsolePage } from "./use-room";

type Props = {
  page: ConsolePage;
  /** Absent before the door is open. */
  onGo?: (place: number) => void;
  onOrder: (refs: string[]) => void;
  onSeconds: (seconds: number) => void;
};

/** The whole lesson: go to any step, skip, put another first; and the time for a round. */
export function Steps({ page, onGo, onOrder, onSeconds }: Props) {
  const running = page.state === "open";
  const ahead = page.state === "ready" || page.state === "planned";
  const refs = page.steps.map((step) => step.ref);
  const swap = (at: number) => {
    const next = [...refs];
    [next[at], next[at + 1]] = [next[at + 1] as string, next[at] as string];
    onOrder(next);
  };
  return (
    <Region name={t`The lesson`}>
      <ol>
        {page.steps.map((step, at) => {
          const on = at + 1 === page.place;
          return (
            <li
              key={step.ref}
              className={`flex items-center gap-2 border-b border-hairline py-1 ${on ? "bg-iris-wash" : ""}`}
            >
              <button
                type="button"
                disabled={!running || !onGo}
                aria-current={on ? "step" : undefined}
                onClick={() => onGo?.(at + 1)}
                className="min-w-0 flex-1 truncate text-start enabled:hover:underline"
              >
                <span className="me-2 text-graphite">{at + 1}</span>
                {step.kind === "page" && <span className="text-graphite">{t`page:`} </span>}
                {step.words || t`without words`}
              </button>
              <span className="shrink-0 text-sm text-graphite">
                {step.rounds > 1
                  ? t`asked ${step.rounds} times`
                  : step.rounds === 1
                    ? step.shown
                      ? t`done`
                      : t`asked`
                    : ""}
              </span>
              {(running || ahead) && at + 1 < page.steps.length && (
                <Button variant="quiet" aria-label={t`Later: step ${at + 1}`} onClick={() => swap(at)}>
                  ↓
                </Button>
              )}
            </li>
          );
        })}
      </ol>
      {(running || ahead) && !page.alone && (
        <div className="mt-4 max-w-56">
          <Field label={t`Time for a question`} hint={t`From the next one asked.`}>
            {(id) => (
              <Choice id={id} value={page.seconds} onChange={(event) => onSeconds(Number(event.target.value))}>
                <option value={0}>{t`until I stop`}</option>
                {[15, 30, 45, 60, 90, 120, 180, 300].map((seconds) => (
                  <option key={seconds} value={seconds}>
                    {seconds < 60 ? t`${seconds} seconds` : t`${seconds / 60} min`}
                  </option>
                ))}
              </Choice>
            )}
          </Field>
        </div>
      )}
    </Region>
  );
}
