import { plural, t } from "@lingui/core/macro";
import { lazy, Suspense } from "react";
import { plain } from "../../ui/rich";
import { inputLook, Note, useTyped } from "./parts";
import { Rubric } from "./rubric";
import type { AnswerProps } from "./types";

// Only a task that allows formatting downloads the editor.
const RichField = lazy(async () => ({ default: (await import("../../ui/rich-field")).RichField }));

const escaped = (text: string) => text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/>/g, "&gt;");
const toHtml = (text: string) =>
  text
    .split("\n")
    .map((line) => `<p>${escaped(line) || "<br>"}</p>`)
    .join("");
const toText = (html: string) =>
  html
    .split(/<\/p>/)
    .map((paragraph) => plain(paragraph))
    .join("\n")
    .replace(/\n$/, "");

export function WrittenAnswer({ item, name, response, onRespond }: AnswerProps<"written">) {
  return (
    <>
      <Rubric rubric={item.rubric ?? null} />
      <Page
        key={name}
        item={item}
        html={response?.text ?? ""}
        onGive={(text) => onRespond(text ? { kind: "written", picture: "", text } : null)}
      />
    </>
  );
}

type PageProps = { item: AnswerProps<"written">["item"]; html: string; onGive: (html: string) => void };

function Page({ item, html, onGive }: PageProps) {
  const start = item.formatting ? html : toText(html);
  const { text, setText, commit } = useTyped(start, (typed) =>
    onGive(plain(typed) ? (item.formatting ? typed : toHtml(typed)) : ""),
  );
  const words = (item.formatting ? plain(text) : text).split(/\s+/).filter(Boolean).length;
  return (
    <>
      {item.formatting ? (
        <Suspense fallback={null}>
          <RichField label={t`Your answer`} className="min-h-64 font-serif text-xl" value={text} onChange={setText} />
        </Suspense>
      ) : (
        <textarea
          aria-label={t`Your answer`}
          rows={9}
          maxLength={50_000}
          className={`${inputLook} field-sizing-content min-h-64 w-full leading-relaxed`}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={commit}
        />
      )}
      <Note>{t`${plural(words, { one: "# word", other: "# words" })}${limits(item)}`}</Note>
    </>
  );
}

function limits({ least_words: least, most_words: most }: PageProps["item"]): string {
  if (least && most) return t`; write ${least} to ${most}`;
  if (least) return t`; write at least ${least}`;
  return most ? t`; write at most ${most}` : "";
}
