import { t } from "@lingui/core/macro";
import { useRef, useState } from "react";
import { FILE_KINDS } from "../../ui/file-kinds";
import { handInFile } from "../api";
import { Note } from "./parts";
import { Rubric } from "./rubric";
import type { AnswerProps } from "./types";

const size = (bytes: number) =>
  bytes < 1e6 ? t`${Math.max(1, Math.round(bytes / 1e3))} kB` : t`${(bytes / 1e6).toFixed(1)} MB`;

export function FileAnswer({ item, name, response, onRespond }: AnswerProps<"file">) {
  const [busy, setBusy] = useState(false);
  const [says, setSays] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const files = response?.files ?? [];
  const take = async (chosen: File[]) => {
    setSays("");
    setBusy(true);
    try {
      let now = files;
      for (const file of chosen.slice(0, item.most_files - files.length)) {
        const kept = await handInFile(name, file);
        now = [...now, kept];
        onRespond({ kind: "file", files: now });
      }
    } catch (error) {
      setSays((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Rubric rubric={item.rubric ?? null} />
      <ul>
        {files.map((file) => (
          <li key={file.file} className="flex items-center gap-3 border-b border-hairline py-2">
            <a
              className="min-w-0 flex-1 truncate font-serif text-xl underline decoration-hairline"
              href={`/api/v1/student/files/${file.file}`}
            >
              {file.name}
            </a>
            <span className="text-graphite">{size(file.bytes)}</span>
            <button
              type="button"
              className="min-h-11 px-2 underline"
              aria-label={t`Take back ${file.name}`}
              onClick={() => {
                const left = files.filter((other) => other.file !== file.file);
                onRespond(left.length > 0 ? { kind: "file", files: left } : null);
              }}
            >{t`take back`}</button>
          </li>
        ))}
      </ul>
      {files.length < item.most_files && (
        <button
          type="button"
          disabled={busy}
          onClick={() => input.current?.click()}
          className="mt-4 min-h-12 rounded-xs border border-edge px-5 text-lg font-semibold disabled:opacity-50"
        >
          {busy ? t`Handing it over…` : t`Choose a file`}
        </button>
      )}
      <input
        ref={input}
        type="file"
        aria-label={t`Choose a file`}
        className="hidden"
        multiple={item.most_files > 1}
        accept={item.accepts.join(",")}
        onChange={(event) => {
          void take([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
      {says && (
        <p role="alert" className="mt-2 border-s-2 border-clay bg-clay-wash px-3 py-2">
          {says}
        </p>
      )}
      <Note>
        {t`${item.file_kinds.map((kind) => FILE_KINDS[kind]).join(", ")}; at most ${item.most_megabytes} MB each`}
        {item.most_files > 1 && t`, up to ${item.most_files} files`}.
      </Note>
    </>
  );
}
