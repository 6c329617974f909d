import { plural, t } from "@lingui/core/macro";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";
import { FilePreview } from "./file-preview";
import { MarkedPicture } from "./marked-picture";
import { MarkedText } from "./marked-text";
import type { At } from "./sequence";
import type { AnswerPage, MarkingItem, Turn } from "./types";
import { type Remark, useRemarks } from "./use-remarks";

type Props = { sittingId: number; turn: Turn; item: MarkingItem; at: At; answer: AnswerPage; name: string };

/** The student’s work, as it came: typed, written by hand, handed in as files, or not at all. */
export function Work({ sittingId, turn, item, at, answer, name }: Props) {
  const remarks = useRemarks(sittingId, turn, at);
  const base = `/api/v1/sittings/${sittingId}/marking/${at.item}/${at.number}`;
  const how =
    item.kind === "performance"
      ? t`watched`
      : answer.by_hand
        ? t`by hand`
        : answer.files.length
          ? plural(answer.files.length, { one: "# file", other: "# files" })
          : t`typed, ${plural(answer.words, { one: "# word", other: "# words" })}`;
  return (
    <article className="min-h-64 border border-hairline bg-page px-6 py-5">
      <p className="mb-3 text-xs font-semibold tracking-[0.09em] text-graphite uppercase">
        {name} · {how}
      </p>
      {item.kind === "performance" && (
        <p className="font-serif text-lg text-graphite">{t`Marked while it is done: there is nothing to read here.`}</p>
      )}
      {answer.text && <MarkedText html={answer.text} remarks={answer.remarks} onMake={remarks.make} />}
      {answer.by_hand && (
        <MarkedPicture
          src={`${base}/handwriting.jpg?turn=${turn}`}
          alt={t`Written by ${name}`}
          file={0}
          page={1}
          remarks={answer.remarks}
          onMake={remarks.make}
        />
      )}
      {answer.files.map((file) => (
        <FilePreview
          key={file.place}
          sittingId={sittingId}
          turn={turn}
          at={at}
          file={file}
          answer={answer}
          onMake={remarks.make}
        />
      ))}
      {answer.returned.length > 0 && (
        <ul aria-label={t`Files with remarks`} className="mt-2 text-sm">
          {answer.returned.map((file) => (
            <li key={file.id}>
              <a className="text-iris underline" href={`/api/v1/sittings/${sittingId}/marking/returned/${file.id}`}>
                {file.name}
              </a>{" "}
              <span className="text-graphite">{t`with remarks of ${file.by}`}</span>
            </li>
          ))}
        </ul>
      )}
      <Problem error={remarks.error} />
      {remarks.unsent.length > 0 && (
        <p
          role="status"
          className="mt-2 text-sm text-graphite"
        >{t`Not sent yet: ${remarks.unsent.map(({ body }) => (body.text ? `“${body.text}”` : t`a highlight`)).join(", ")}.`}</p>
      )}
      {answer.remarks.length > 0 && (
        <ul aria-label={t`Remarks`} className="mt-4 border-t border-hairline pt-2 text-sm">
          {answer.remarks.map((remark) => (
            <li key={remark.id} className="flex items-baseline gap-2 py-0.5">
              <span className="text-graphite">{whereOf(remark, answer)}</span>
              <span className="min-w-0 flex-1 wrap-anywhere">{remark.text || t`highlighted`}</span>
              {remark.mine ? (
                <Button variant="quiet" onClick={() => remarks.takeBack(remark.id)}>{t`take it back`}</Button>
              ) : (
                <span className="text-graphite">{remark.by}</span>
              )}
            </li>
          ))}
        </ul>
      )}
    </article>
  );
}

/** An answer that was not fetched before the connection went. */
export function NotHere() {
  return (
    <p role="status" className="border-s-2 border-ochre bg-ochre-wash px-3 py-2">
      {t`There is no connection, and this answer is not in this browser yet. What you have marked is kept; this one comes with the connection.`}
    </p>
  );
}

/** “…the same in both…” for a stretch of text; the number on the picture for an area. */
function whereOf(remark: Remark, answer: AnswerPage): string {
  const { place } = remark;
  if (place.kind === "area") {
    const same = answer.remarks.filter(
      (remark) => remark.place.kind === "area" && remark.place.file === place.file && remark.place.page === place.page,
    );
    return `${same.indexOf(remark) + 1}${answer.files.length > 1 ? t`, file ${place.file}` : ""}${place.page > 1 ? t`, page ${place.page}` : ""}`;
  }
  const text = new DOMParser().parseFromString(answer.text, "text/html").body.textContent ?? "";
  const words = text.slice(place.start, place.end);
  return `“${words.length > 30 ? `${words.slice(0, 29)}…` : words}”`;
}
