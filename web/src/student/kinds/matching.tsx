import { t } from "@lingui/core/macro";
import { plain, Rich } from "../../ui/rich";
import { inputLook } from "./parts";
import type { AnswerProps } from "./types";

export function MatchingAnswer({ item, response, onRespond }: AnswerProps<"matching">) {
  const pairs = response?.pairs ?? {};
  const pair = (row: string, choice: string) => {
    const { [row]: _old, ...others } = pairs;
    const next = choice ? { ...others, [row]: choice } : others;
    onRespond(Object.keys(next).length > 0 ? { kind: "matching", pairs: next } : null);
  };
  return (
    <>
      <ol className="mb-5 border-y border-hairline py-2">
        {item.choices.map((choice) => (
          <li key={choice.id} className="flex gap-3 py-1 font-serif text-xl">
            <strong className="w-6 shrink-0">{choice.letter}</strong>
            <Rich html={choice.text} inline />
          </li>
        ))}
      </ol>
      {item.rows.map((row, at) => (
        <div key={row.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hairline py-2.5">
          <span className="w-6 shrink-0 text-graphite">{at + 1}</span>
          <span className="min-w-0 flex-1 basis-40 font-serif text-xl">
            <Rich html={row.text} inline />
          </span>
          <select
            aria-label={t`Goes with: ${plain(row.text)}`}
            className={`${inputLook} w-44 py-1.5!`}
            value={pairs[row.id] ?? ""}
            onChange={(event) => pair(row.id, event.target.value)}
          >
            <option value="">{t`goes with…`}</option>
            {item.choices.map((choice) => (
              <option key={choice.id} value={choice.id}>
                {choice.letter} {plain(choice.text)}
              </option>
            ))}
          </select>
        </div>
      ))}
    </>
  );
}
