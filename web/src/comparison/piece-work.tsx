import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { Problem } from "../ui/field";
import { Player } from "../ui/player";
import { Rich } from "../ui/rich";

type Piece = NonNullable<Schemas["PairPage"]["left"]>;

/** A piece of work to be judged: typed, written by hand, or handed in as files. */
export function PieceWork({ comparisonId, piece }: { comparisonId: number; piece: Piece }) {
  const base = `/api/v1/comparisons/${comparisonId}/pieces/${piece.number}`;
  return (
    <>
      {piece.text && <Rich html={piece.text} className="font-serif text-lg" />}
      {piece.by_hand && (
        <img src={`${base}/handwriting.jpg`} alt={t`Written by no. ${piece.number}`} className="w-full" />
      )}
      {piece.files.map((file) => (
        <PieceFile key={file.place} comparisonId={comparisonId} number={piece.number} file={file} base={base} />
      ))}
      {piece.words > 0 && (
        <p className="mt-3 text-sm text-graphite">{plural(piece.words, { one: "# word", other: "# words" })}</p>
      )}
    </>
  );
}

type FileProps = { comparisonId: number; number: number; file: Piece["files"][number]; base: string };

function PieceFile({ comparisonId, number, file, base }: FileProps) {
  const preview = useQuery({
    queryKey: ["comparison", "file", comparisonId, number, file.place],
    queryFn: () =>
      read(
        api.GET("/api/v1/comparisons/{comparison_id}/pieces/{number}/files/{place}/preview", {
          params: { path: { comparison_id: comparisonId, number, place: file.place } },
        }),
      ),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const address = `${base}/files/${file.place}`;
  return (
    <section aria-label={file.name} className="mb-4">
      <p className="mb-2 border-b border-hairline pb-1">
        <a className="text-iris underline" href={address}>
          {file.name}
        </a>
      </p>
      <Problem error={preview.error} />
      {preview.data?.text && <pre className="font-serif text-base whitespace-pre-wrap">{preview.data.text}</pre>}
      {[...Array(preview.data?.pages ?? 0).keys()].map((page) => (
        <img
          key={page}
          src={`${address}/pages/${page + 1}.jpg`}
          alt={t`${file.name}, page ${page + 1}`}
          className="mb-2 w-full"
        />
      ))}
      {file.plays && <Player plays={file.plays} src={`${address}/played`} name={file.name} />}
      {preview.data?.says && !file.plays && <p className="text-sm text-graphite">{preview.data.says}</p>}
    </section>
  );
}
