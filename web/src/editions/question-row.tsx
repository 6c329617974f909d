import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { kindName } from "../bank/kinds";
import { Button, ButtonLink } from "../ui/button";
import { NumberInput } from "../ui/number-input";
import type { Item } from "./layout";
import { type OnPaper, QuestionOnPaper } from "./on-paper";

type Entry = Schemas["PlacedItem"];
type Props = {
  number: number;
  entry: Entry;
  item: Item | undefined;
  /** The question as students see it; without it the row is one line of its words. */
  onPaper: OnPaper | undefined;
  problem: Schemas["Check"] | undefined;
  onChange: (entry: Entry & { entry: "item" }) => void;
  onTake: () => void;
};

/** A question in its place in the test. */
export function QuestionRow({ number, entry, item, onPaper, problem, onChange, onTake }: Props) {
  const set = (part: Partial<Entry>) => onChange({ ...entry, entry: "item", ...part });
  return (
    <div id={`row-${entry.ref}`} className="flex items-start gap-2">
      <span className="w-7 shrink-0 text-end font-serif text-lg font-semibold">{number}</span>
      <div className="min-w-0 flex-1 ps-1">
        <div className="flex items-start gap-3">
          <div className="min-w-0 flex-1">
            {onPaper ? (
              <QuestionOnPaper {...onPaper} />
            ) : (
              <p className="line-clamp-2 font-serif leading-snug">{item?.words || t`A question without text`}</p>
            )}
          </div>
          <NumberInput
            label={t`Marks of question ${number}`}
            className="w-16! shrink-0 py-0! text-end"
            min={0.5}
            max={100}
            step={0.5}
            value={entry.marks ?? item?.marks ?? 1}
            onChange={(marks) => set({ marks: marks === item?.marks ? null : marks })}
          />
        </div>
        <div className="flex items-baseline gap-x-3 text-sm text-graphite">
          <span className="min-w-0 flex-1 truncate">
            {item && `${item.skills.join(", ") || t`no skill`} · ${kindName(item.kind)}`}
            {entry.new_page && t` · on a new page`}
          </span>
          <Button variant="quiet" aria-pressed={entry.new_page} onClick={() => set({ new_page: !entry.new_page })}>
            {entry.new_page ? t`same page` : t`new page`}
          </Button>
          <ButtonLink variant="quiet" to={`/bank/${entry.ref}`} aria-label={t`Open question ${number}`}>
            {t({ message: "open", context: "what a press does" })}
          </ButtonLink>
          <Button variant="quiet" onClick={onTake} aria-label={t`Take off question ${number}`}>{t`take off`}</Button>
        </div>
        {problem && (
          <p className={`text-sm ${problem.stops ? "text-ochre" : "text-graphite"}`}>
            ◐ {problem.says.replace(/^Question \d+: /, "")}
          </p>
        )}
      </div>
    </div>
  );
}
