import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link } from "react-router";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { CompactSelect } from "../ui/compact-select";
import { Problem } from "../ui/field";
import { undoKeys } from "../ui/history";
import { amount, timeOf } from "../ui/words";
import { FilePreview } from "./file-preview";
import { MarkedPicture } from "./marked-picture";
import { MarkedText } from "./marked-text";
import { PenBar } from "./pen-bar";
import type { At } from "./sequence";
import type { AnswerPage, MarkingItem, Turn } from "./types";
import { usePen } from "./use-pen";
import { type Remark, useRemarks } from "./use-remarks";

type Props = { sittingId: number; turn: Turn; item: MarkingItem; at: At; answer: AnswerPage; name: string };

/** The student’s work, as it came: typed, written by hand, handed in as files, or not at all. */
export function Work({ sittingId, turn, item, at, answer, name }: Props) {
  const remarks = useRemarks(sittingId, turn, at, answer);
  const pictured = answer.by_hand || answer.files.length > 0;
  const pen = usePen(pictured);
  const earlier = useEarlier(sittingId, turn, at, answer);
  const shown = earlier.remarks ?? remarks.remarks;
  const doing = earlier.remarks ? null : remarks;
  const base = `/api/v1/sittings/${sittingId}/marking/${at.item}/${at.number}`;
  const how =
    item.kind === "performance"
      ? t`watched`
      : answer.by_hand
        ? t`by hand`
        : answer.files.length
          ? plural(answer.files.length, { one: "# file", other: "# files" })
          : t`typed, ${plural(answer.words, { one: "# word", other: "# words" })}`;
  const unsent = remarks.remarks.filter((one) => !one.sent).length;
  return (
    <article
      className="min-h-64 border border-hairline bg-page px-6 py-5"
      onKeyDown={undoKeys(remarks.undo, () => undefined)}
    >
      <p className="mb-3 text-xs font-semibold tracking-[0.09em] text-graphite uppercase">
        {name} · {how}
      </p>
      {item.kind === "performance" && (
        <p className="mb-3 font-serif text-lg text-graphite">
          {answer.files.length
            ? t`Marked while it was done; this was kept of it.`
            : t`Marked while it is done; nothing was kept of it.`}{" "}
          {turn !== "pile" && (
            <Link className="text-iris underline" to={`/sittings/${sittingId}/watching`}>{t`Mark while watching`}</Link>
          )}
        </p>
      )}
      {answer.before && <Before before={answer.before} />}
      {answer.text && <MarkedText html={answer.text} remarks={shown} onMake={remarks.make} />}
      {pictured && (
        <PenBar pen={pen} rubric={item.rubric} canUndo={remarks.canUndo && !earlier.remarks} onUndo={remarks.undo} />
      )}
      {answer.by_hand && (
        <MarkedPicture
          src={`${base}/handwriting.jpg?turn=${turn}`}
          alt={t`Written by ${name}`}
          file={0}
          page={1}
          remarks={shown}
          pen={pen}
          doing={doing}
        />
      )}
      {answer.files.map((file) => (
        <FilePreview
          key={file.place}
          sittingId={sittingId}
          turn={turn}
          at={at}
          file={file}
          remarks={shown}
          pen={pen}
          doing={doing}
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
      {unsent > 0 && (
        <p
          role="status"
          className="mt-2 text-sm text-graphite"
        >{t`Not sent yet: ${plural(unsent, { one: "one thing", other: "# things" })} that you put on this answer.`}</p>
      )}
      {earlier.choice}
      <OnIt shown={shown} answer={answer} item={item} onTakeBack={earlier.remarks ? null : remarks.takeBack} />
    </article>
  );
}

/** The draft that was marked before, word by word beside what is written now. */
function Before({ before }: { before: NonNullable<AnswerPage["before"]> }) {
  const earned = shortAmount(Object.values(before.mark.points).reduce((sum, value) => sum + value, 0));
  return (
    <details className="mb-4 border-s-2 border-iris ps-3">
      <summary className="cursor-pointer text-sm font-semibold">
        {t`A second draft: the first one had ${earned}, ${before.mark.by}, ${timeOf(before.mark.at)}. What changed`}
      </summary>
      <p dir="auto" className="mt-2 font-serif leading-relaxed wrap-anywhere">
        {before.passages.map(({ fate, words }, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the passages of one text, which never move
          <Fragment key={at}>
            {fate === "new" ? (
              <ins className="bg-teal-wash decoration-teal">{words}</ins>
            ) : fate === "gone" ? (
              <del className="text-graphite">{words}</del>
            ) : (
              words
            )}{" "}
          </Fragment>
        ))}
      </p>
    </details>
  );
}

/** What stands on an answer, in words; strokes of a pen are counted. */
function OnIt({
  shown,
  answer,
  item,
  onTakeBack,
}: {
  shown: Remark[];
  answer: AnswerPage;
  item: MarkingItem;
  onTakeBack: ((some: Remark[]) => void) | null;
}) {
  const strokes = shown.filter((one) => one.place.kind === "stroke");
  const own = strokes.filter((one) => one.mine);
  const named = shown.filter((one) => one.place.kind !== "stroke");
  if (shown.length === 0) return null;
  return (
    <ul aria-label={t`Remarks`} className="mt-4 border-t border-hairline pt-2 text-sm">
      {named.map((remark) => (
        <li key={remark.key} className="flex items-baseline gap-2 py-0.5">
          <span className="text-graphite">{whereOf(remark, shown, answer)}</span>
          <span className="min-w-0 flex-1 wrap-anywhere">
            {whatOf(remark)}
            {remark.criterion && (
              <span className="text-graphite">
                {" "}
                · {item.rubric.criteria.find((one) => one.id === remark.criterion)?.name}
              </span>
            )}
          </span>
          {remark.mine && onTakeBack ? (
            <Button variant="quiet" onClick={() => onTakeBack([remark])}>{t`take it back`}</Button>
          ) : (
            <span className="text-graphite">{remark.by}</span>
          )}
        </li>
      ))}
      {strokes.length > 0 && (
        <li className="flex items-baseline gap-2 py-0.5">
          <span className="flex-1">
            {plural(strokes.length, { one: "One line drawn with the pen", other: "# lines drawn with the pen" })}
          </span>
          {own.length > 0 && onTakeBack && (
            <Button variant="quiet" onClick={() => onTakeBack(own)}>{t`take yours back`}</Button>
          )}
        </li>
      )}
    </ul>
  );
}

/** What stood on the answer when an earlier mark was given, where there is more than one. */
function useEarlier(sittingId: number, turn: Turn, at: At, answer: AnswerPage) {
  const [mark, setMark] = useState("");
  const kept = answer.history.filter((one) => one.state !== "draft");
  const then = useQuery({
    queryKey: ["answer", sittingId, "then", turn, at.item, at.number, mark],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/{number}/remarks", {
          params: { path: { sitting_id: sittingId, ...at }, query: { turn, mark: Number(mark.slice(1)) } },
        }),
      ),
    enabled: mark !== "",
  });
  const remarks: Remark[] | undefined = mark === "" ? undefined : then.data?.map((one) => ({ ...one, sent: true }));
  const points = (one: AnswerPage["history"][number]) =>
    shortAmount(Object.values(one.points).reduce((sum, value) => sum + value, 0));
  return {
    remarks,
    choice: kept.length > 1 && (
      <div className="mt-3 flex items-center gap-2 text-sm text-graphite" data-screen-only>
        <CompactSelect
          name={t`What stood on it`}
          value={mark}
          of={{
            "": t`What stands on it now`,
            ...Object.fromEntries(
              kept.map((one) => [
                // A name that is no number: numbers would be put before the first choice.
                `m${one.id}`,
                t`What stood on it at ${points(one)}, ${timeOf(one.at)}`,
              ]),
            ),
          }}
          onChange={setMark}
        />
        <Problem error={then.error} />
      </div>
    ),
  };
}

/** An answer that was not fetched before the connection went. */
export function NotHere() {
  return (
    <p role="status" className="border-s-2 border-ochre bg-ochre-wash px-3 py-2">
      {t`There is no connection, and this answer is not in this browser yet. What you have marked is kept; this one comes with the connection.`}
    </p>
  );
}

/** “…the same in both…” for a stretch of text; the number on the picture for a note on a part of it. */
function whereOf(remark: Remark, all: Remark[], answer: AnswerPage): string {
  const { place } = remark;
  if (place.kind !== "stretch") {
    const noted = all.filter(
      (one) =>
        one.text &&
        one.place.kind !== "words" &&
        one.place.kind !== "stretch" &&
        one.place.file === place.file &&
        one.place.page === place.page,
    );
    const number = place.kind === "area" && remark.text ? `${noted.indexOf(remark) + 1}` : "";
    const file = answer.files.length > 1 ? t`file ${place.file}` : "";
    return [number, file, place.page > 1 ? t`page ${place.page}` : ""].filter(Boolean).join(", ");
  }
  const text = new DOMParser().parseFromString(answer.text, "text/html").body.textContent ?? "";
  const words = text.slice(place.start, place.end);
  return `“${words.length > 30 ? `${words.slice(0, 29)}…` : words}”`;
}

const shortAmount = (value: number) => amount(value, value % 1 ? 1 : 0);

function whatOf({ place, text }: Remark): string {
  if (text) return text;
  if (place.kind === "sign")
    return place.sign === "tick" ? t`a tick` : place.sign === "cross" ? t`a cross` : t`a question mark`;
  if (place.kind === "underline") return t`underlined`;
  return place.kind === "area" ? t`framed` : t`highlighted`;
}
