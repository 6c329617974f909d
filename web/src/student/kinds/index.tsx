import { plural } from "@lingui/core/macro";
import type { ComponentType } from "react";
import { plain } from "../../ui/rich";
import { ChoiceAnswer, SeveralAnswer, TrueFalseAnswer } from "./choices";
import { FileAnswer } from "./files";
import { GapsAnswer } from "./gaps";
import { MarksOnlyAnswer } from "./marks-only";
import { MatchingAnswer } from "./matching";
import { OrderingAnswer } from "./ordering";
import { PicturePointAnswer } from "./picture-point";
import { ExpressionAnswer, NumericAnswer, PerformanceAnswer, ShortTextAnswer } from "./typed";
import type { Item, Kind, Response } from "./types";
import { WrittenAnswer } from "./written";

const short = (text: string) => (text.length > 7 ? `${text.slice(0, 6)}…` : text);

/** How each kind of item is answered. The one place on the student's side that knows the kinds. */
const KINDS: { [K in Item["kind"]]: Kind<K> } = {
  single_choice: {
    Answer: ChoiceAnswer,
    sign: (response, item) => item.options.find((option) => option.id === response.option)?.letter ?? "",
  },
  several_answers: {
    Answer: SeveralAnswer,
    sign: (response, item) =>
      item.options
        .filter((option) => response.options.includes(option.id))
        .map((option) => option.letter)
        .join(""),
  },
  true_false: { Answer: TrueFalseAnswer, sign: (response) => (response.value ? "T" : "F") },
  numeric: { Answer: NumericAnswer, sign: (response) => short(response.text) },
  short_text: { Answer: ShortTextAnswer, sign: (response) => short(response.text) },
  gaps: {
    Answer: GapsAnswer,
    sign: (response, item) => `${Object.values(response.gaps).filter(Boolean).length}/${item.gaps.length}`,
  },
  matching: {
    Answer: MatchingAnswer,
    sign: (response, item) => `${Object.keys(response.pairs).length}/${item.rows.length}`,
  },
  ordering: { Answer: OrderingAnswer, sign: () => "✓" },
  expression: { Answer: ExpressionAnswer, sign: (response) => short(response.text) },
  picture_point: { Answer: PicturePointAnswer, sign: () => "✓" },
  written: { Answer: WrittenAnswer, sign: (response) => short(plain(response.text)) },
  file: {
    Answer: FileAnswer,
    sign: (response) => plural(response.files.length, { one: "# file", other: "# files" }),
  },
  marks_only: { Answer: MarksOnlyAnswer, sign: (response) => String(response.points) },
  performance: { Answer: PerformanceAnswer, sign: () => "" },
};

/** Whether a question waits for something from this student's device at all. */
export const takesAnAnswer = (item: Item) => item.kind !== "performance";

export function signOf(response: Response | null, item: Item): string {
  if (!response || response.kind !== item.kind) return "";
  const { sign } = KINDS[item.kind] as Kind<Item["kind"]>;
  return sign(response as never, item as never);
}

type AnyProps = { item: Item; name: string; response: Response | null; onRespond: (response: Response | null) => void };

/** The place to answer an item of any kind. */
export function Answer({ item, response, ...rest }: AnyProps) {
  // The union narrows per kind in the table above; here one cast joins item and component again.
  const { Answer: One } = KINDS[item.kind] as unknown as { Answer: ComponentType<AnyProps> };
  return <One item={item} response={response?.kind === item.kind ? response : null} {...rest} />;
}
