import { t } from "@lingui/core/macro";
import { useState } from "react";
import { TypedLine } from "./parts";
import type { AnswerProps } from "./types";

/** A mark off one's own marked paper: what is more than the question has is said and not kept. */
export function MarksOnlyAnswer({ item, name, response, onRespond }: AnswerProps<"marks_only">) {
  const [says, setSays] = useState<string | null>(null);
  const give = (text: string) => {
    const typed = text.trim().replace(",", ".").replace("½", ".5");
    const points = Number(typed);
    const step = item.half_marks ? 0.5 : 1;
    if (typed === "") {
      setSays(null);
      onRespond(null);
    } else if (Number.isNaN(points) || points < 0) setSays(t`Write a number.`);
    else if (points > item.marks) setSays(t`It has at most ${item.marks}.`);
    else if (!Number.isInteger(points / step)) setSays(item.half_marks ? t`Halves at most.` : t`Whole marks only.`);
    else {
      setSays(null);
      onRespond({ kind: "marks_only", points });
    }
  };
  return (
    <span className="relative inline-flex items-center gap-2">
      <TypedLine
        aria-label={t`Your mark for ${item.label}, of ${item.marks}`}
        aria-invalid={says !== null}
        name={name}
        inputMode="decimal"
        maxLength={6}
        className={`w-20 text-end ${says ? "border-clay!" : ""}`}
        value={response ? String(response.points) : ""}
        onGive={give}
      />
      <span className="w-14 text-graphite">{t`of ${item.marks}`}</span>
      {says && (
        <span role="alert" className="absolute top-full end-14 z-10 bg-clay-wash px-2 whitespace-nowrap text-clay">
          {says}
        </span>
      )}
    </span>
  );
}
