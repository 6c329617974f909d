import { t } from "@lingui/core/macro";
import { useState } from "react";
import { plain, Rich } from "../../ui/rich";
import { Note } from "./parts";
import type { AnswerProps } from "./types";

/** Entries moved up and down. Until the first is moved there is no answer, since the order shown says nothing. */
export function OrderingAnswer({ item, response, onRespond }: AnswerProps<"ordering">) {
  const [said, setSaid] = useState("");
  const order = response?.order ?? item.entries.map((entry) => entry.id);
  const move = (at: number, by: number) => {
    const entry = order[at];
    if (entry === undefined || at + by < 0 || at + by >= order.length) return;
    onRespond({ kind: "ordering", order: order.toSpliced(at, 1).toSpliced(at + by, 0, entry) });
    const [words, place, count] = [plain(texts[entry] ?? ""), at + by + 1, order.length];
    setSaid(t`${words}: now ${place} of ${count}`);
  };
  const texts = Object.fromEntries(item.entries.map((entry) => [entry.id, entry.text]));
  return (
    <>
      <ol>
        {order.map((id, at) => {
          const words = plain(texts[id] ?? "");
          return (
            <li key={id} className="flex min-h-14 items-center gap-3 border-b border-hairline py-1.5">
              <span className="w-6 shrink-0 font-serif text-xl font-semibold">{at + 1}</span>
              <span className="min-w-0 flex-1 font-serif text-xl leading-snug">
                <Rich html={texts[id] ?? ""} inline />
              </span>
              <Mover says={t`Move up: ${words}`} sign="↑" disabled={at === 0} onPress={() => move(at, -1)} />
              <Mover
                says={t`Move down: ${words}`}
                sign="↓"
                disabled={at === order.length - 1}
                onPress={() => move(at, 1)}
              />
            </li>
          );
        })}
      </ol>
      <p role="status" className="sr-only">
        {said}
      </p>
      {response ? (
        <Note>{t`This order is your answer.`}</Note>
      ) : (
        <button
          type="button"
          className="mt-3 min-h-11 rounded-xs border border-edge/60 px-4"
          onClick={() => onRespond({ kind: "ordering", order })}
        >{t`This order is right as it stands`}</button>
      )}
    </>
  );
}

function Mover(props: { says: string; sign: string; disabled: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-label={props.says}
      // What has come to its end keeps the focus, so that the next key is not pressed into nothing.
      aria-disabled={props.disabled}
      onClick={() => !props.disabled && props.onPress()}
      className="size-11 shrink-0 rounded-xs border border-edge/60 text-xl aria-disabled:opacity-40"
    >
      {props.sign}
    </button>
  );
}
