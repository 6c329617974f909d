import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { Problem } from "../ui/field";
import { Player } from "../ui/player";
import { MarkedPicture } from "./marked-picture";
import type { At } from "./sequence";
import type { AnswerPage, Turn } from "./types";
import type { Pen } from "./use-pen";
import type { Remark, Remarks } from "./use-remarks";

type Props = {
  sittingId: number;
  turn: Turn;
  at: At;
  file: AnswerPage["files"][number];
  remarks: Remark[];
  pen: Pen;
  doing: Remarks | null;
};

/** A file that was handed in: its pages to look at and to note on, its text, or why it can only be saved. */
export function FilePreview({ sittingId, turn, at, file, remarks, pen, doing }: Props) {
  const base = `/api/v1/sittings/${sittingId}/marking/${at.item}/${at.number}/files/${file.place}`;
  const preview = useQuery({
    queryKey: ["answer", sittingId, "preview", turn, at.item, at.number, file.place],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/{number}/files/{place}/preview", {
          params: { path: { sitting_id: sittingId, ...at, place: file.place }, query: { turn } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <section aria-label={file.name} className="mb-5">
      <p className="mb-2 flex items-baseline gap-3 border-b border-hairline pb-1">
        <a className="min-w-0 font-serif text-lg wrap-anywhere text-iris underline" href={`${base}?turn=${turn}`}>
          {file.name}
        </a>
        <span className="text-sm text-graphite">{t`${Math.max(1, Math.round(file.bytes / 1000))} kB`}</span>
      </p>
      <Problem error={preview.error} />
      {preview.isPending && <p className="text-sm text-graphite">{t`Its pages are being drawn…`}</p>}
      {preview.data?.text && (
        <pre className="max-h-[60vh] overflow-auto font-serif text-base whitespace-pre-wrap">{preview.data.text}</pre>
      )}
      {[...Array(preview.data?.pages ?? 0).keys()].map((page) => (
        <MarkedPicture
          key={page}
          src={`${base}/pages/${page + 1}.jpg?turn=${turn}`}
          alt={t`${file.name}, page ${page + 1}`}
          file={file.place}
          page={page + 1}
          remarks={remarks}
          pen={pen}
          doing={doing}
        />
      ))}
      {file.plays && <Player plays={file.plays} src={`${base}/played?turn=${turn}`} name={file.name} />}
      {preview.data?.says && !file.plays && <p className="text-sm text-graphite">{preview.data.says}</p>}
    </section>
  );
}
