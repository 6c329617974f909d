import { t } from "@lingui/core/macro";
import { useEffect, useRef, useState } from "react";
import { createPortal } from "react-dom";
import { setGaps } from "../../ui/gap-text";
import { inputLook, TypedLine } from "./parts";
import type { AnswerProps } from "./types";

export function GapsAnswer({ item, name, response, onRespond }: AnswerProps<"gaps">) {
  const holder = useRef<HTMLDivElement>(null);
  const [places, setPlaces] = useState<Record<string, HTMLElement>>({});
  useEffect(() => {
    if (holder.current) setPlaces(setGaps(holder.current, item.text));
  }, [item.text]);
  const given = response?.gaps ?? {};
  const give = (gap: string, text: string) => {
    const { [gap]: _old, ...others } = given;
    const gaps = text.trim() ? { ...others, [gap]: text } : others;
    onRespond(Object.keys(gaps).length > 0 ? { kind: "gaps", gaps } : null);
  };
  return (
    <>
      <div ref={holder} className="rich font-serif text-xl leading-loose" />
      {item.gaps.map((gap, at) => {
        const place = places[gap.name];
        const label = t`Gap ${at + 1} of ${item.gaps.length}`;
        if (!place) return null;
        return createPortal(
          gap.choices.length > 0 ? (
            <select
              aria-label={label}
              className={`${inputLook} py-1!`}
              value={given[gap.name] ?? ""}
              onChange={(event) => give(gap.name, event.target.value)}
            >
              <option value="">…</option>
              {gap.choices.map((choice) => (
                <option key={choice.id} value={choice.id}>
                  {choice.text}
                </option>
              ))}
            </select>
          ) : (
            <TypedLine
              key={name}
              aria-label={label}
              maxLength={300}
              className="w-36 py-1!"
              value={given[gap.name] ?? ""}
              onGive={(text) => give(gap.name, text)}
            />
          ),
          place,
          gap.name,
        );
      })}
    </>
  );
}
