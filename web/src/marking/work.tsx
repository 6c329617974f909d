import { useState } from "react";
import { Button } from "../ui/button";
import { Rich } from "../ui/rich";
import { many } from "../ui/words";
import type { At } from "./sequence";
import type { AnswerPage, MarkingItem } from "./use-marking";

type Props = { sittingId: number; item: MarkingItem; at: At; answer: AnswerPage; name: string };

/** The student’s work, as it came: typed, written by hand, handed in as files, or not at all. */
export function Work({ sittingId, item, at, answer, name }: Props) {
  const [large, setLarge] = useState(false);
  const base = `/api/sittings/${sittingId}/marking/${at.item}/${at.number}`;
  const how =
    item.kind === "performance"
      ? "watched"
      : answer.by_hand
        ? "by hand"
        : answer.files.length
          ? many(answer.files.length, "file")
          : `typed, ${many(answer.words, "word")}`;
  return (
    <article className="min-h-64 border border-hairline bg-page px-6 py-5">
      <p className="mb-3 flex items-baseline justify-between gap-3 text-xs font-semibold tracking-[0.09em] text-graphite uppercase">
        <span>
          {name} · {how}
        </span>
        {answer.by_hand && (
          <Button look="quiet" onClick={() => setLarge(!large)}>
            {large ? "smaller" : "larger"}
          </Button>
        )}
      </p>
      {item.kind === "performance" && (
        <p className="font-serif text-lg text-graphite">Marked while it is done: there is nothing to read here.</p>
      )}
      {answer.text && <Rich html={answer.text} className="font-serif text-lg leading-relaxed wrap-anywhere" />}
      {answer.by_hand && (
        <div className="overflow-x-auto">
          <img
            src={`${base}/handwriting.jpg`}
            alt={`Written by ${name}`}
            className={large ? "max-w-none w-[180%]" : "w-full"}
          />
        </div>
      )}
      <ul>
        {answer.files.map((file) => (
          <li key={file.place} className="flex items-baseline gap-3 border-b border-hairline py-2">
            <a
              className="min-w-0 font-serif text-lg wrap-anywhere text-iris underline"
              href={`${base}/files/${file.place}`}
            >
              {file.name}
            </a>
            <span className="text-sm text-graphite">{Math.max(1, Math.round(file.bytes / 1000))} kB</span>
          </li>
        ))}
      </ul>
    </article>
  );
}
