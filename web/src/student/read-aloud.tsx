import { t } from "@lingui/core/macro";
import { useContext, useEffect } from "react";
import { ContentLanguage, plain } from "../ui/rich";
import type { Item } from "./kinds/types";

/** What there is to hear of a question: its text, then what can be picked, each with its letter. */
function wordsOf(item: Item): string {
  const parts = [plain(item.stem)];
  if (item.kind === "gaps") parts.push(plain(item.text).replace(/\[[a-z]\]/g, " … "));
  if ("options" in item) parts.push(...item.options.map((option) => `${option.letter}: ${plain(option.text)}`));
  if ("rows" in item) parts.push(...item.rows.map((row) => plain(row.text)));
  if ("choices" in item) parts.push(...item.choices.map((choice) => `${choice.letter}: ${plain(choice.text)}`));
  if ("entries" in item) parts.push(...item.entries.map((entry) => plain(entry.text)));
  if (item.kind === "picture_point") parts.push(item.picture_words);
  return parts.filter(Boolean).join(". ");
}

/** Reads a question with the voice of the student's own device; nothing leaves it. */
export function ReadAloud({ item }: { item: Item }) {
  const lang = useContext(ContentLanguage);
  useEffect(() => () => globalThis.speechSynthesis?.cancel(), []);
  if (!("speechSynthesis" in globalThis)) return null;
  return (
    <button
      type="button"
      className="mt-3 min-h-11 rounded-xs border border-edge/60 px-4"
      onClick={() => {
        speechSynthesis.cancel();
        const words = new SpeechSynthesisUtterance(wordsOf(item));
        if (lang) words.lang = lang;
        speechSynthesis.speak(words);
      }}
    >{t`Read it to me`}</button>
  );
}
