import { t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Mic, Square, X } from "lucide-react";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { Problem } from "../ui/field";
import { Player } from "../ui/player";
import { put, type Reading } from "./sender";
import { useRecorder } from "./use-recorder";
import type { Unsent } from "./use-watching";

type Line = Schemas["EvidenceLine"];
type Props = {
  place: { sitting: number; seat: number; item: string; turn: Reading };
  name: string;
  evidence: Line[];
  waiting: Unsent[];
  onFile: (file: Blob, name: string) => Promise<void>;
};

const ACCEPTED = ".mp3,.m4a,.ogg,.wav,.weba,.mp4,.webm,.mov,image/png,image/jpeg,image/webp";
const UNUSED = /[\\/\p{Cc}]/gu;

/** Sound, photographs and films of one student at one task: made here, heard here, taken away here. */
export function Evidence({ place, name, evidence, waiting, onFile }: Props) {
  const [problem, setProblem] = useState("");
  const keep = (file: Blob, called: string) =>
    void onFile(file, called).catch(() =>
      setProblem(t`This browser would not store ${called}. Save it on this computer and choose it once more.`),
    );
  const number = evidence.length + waiting.length + 1;
  const recorder = useRecorder((sound, ending) =>
    keep(sound, `${t`${name}, sound ${number}`.replace(UNUSED, "_")}.${ending}`),
  );
  return (
    <section aria-label={t`Evidence of ${name}`} className="border-t border-hairline pt-2">
      <div className="flex flex-wrap items-center gap-2">
        {recorder.records ? (
          <Button variant="main" onClick={recorder.stop}>
            <Square size={14} aria-hidden /> {t`Stop recording`}
          </Button>
        ) : (
          <Button onClick={recorder.start}>
            <Mic size={14} aria-hidden /> {t`Record sound`}
          </Button>
        )}
        <div className="[&>div]:mb-0">
          <ChooseFile
            label={t`Photograph or file of ${name}`}
            accept={ACCEPTED}
            several
            look="plain"
            words={t`Photograph or file…`}
            onFile={(file) => keep(file, file.name)}
          />
        </div>
        {recorder.records && (
          <span role="status" className="text-sm font-semibold text-clay">{t`The microphone is on.`}</span>
        )}
      </div>
      {(recorder.problem || problem) && (
        <p role="alert" className="mt-1 text-sm text-ochre">
          {recorder.problem || problem}
        </p>
      )}
      <ul className="mt-2 grid gap-2">
        {evidence.map((line) => (
          <Kept key={line.file} place={place} line={line} />
        ))}
        {waiting.map(({ id, name: called }) => (
          <li key={id} className="text-sm wrap-anywhere text-graphite">
            {t`${called}: in this browser, on its way to the school’s server`}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Kept({ place, line }: { place: Props["place"]; line: Line }) {
  const client = useQueryClient();
  const path = { sitting_id: place.sitting, seat_id: place.seat };
  const takeAway = useMutation({
    mutationFn: () =>
      read(
        api.DELETE("/api/v1/sittings/{sitting_id}/marking/watching/{seat_id}/{item}/evidence/{file_id}", {
          params: { path: { ...path, item: place.item, file_id: line.file }, query: { turn: place.turn } },
        }),
      ),
    onSuccess: (student) => put({ client }, place, student),
  });
  const [asks, setAsks] = useState(false);
  const address = `/api/v1/sittings/${place.sitting}/marking/watching/${place.seat}/evidence/${line.file}`;
  return (
    <li className="text-sm">
      <p className="flex items-center gap-2">
        <span className="min-w-0 flex-1 wrap-anywhere">{line.name}</span>
        {asks ? (
          <>
            <Button disabled={takeAway.isPending} onClick={() => takeAway.mutate()}>{t`Take it away`}</Button>
            <Button variant="quiet" onClick={() => setAsks(false)}>{t`Leave it`}</Button>
          </>
        ) : (
          <button
            type="button"
            aria-label={t`Take ${line.name} away…`}
            className="flex size-6 items-center justify-center text-graphite hover:text-ink"
            onClick={() => setAsks(true)}
          >
            <X size={14} aria-hidden />
          </button>
        )}
      </p>
      <Problem error={takeAway.error} />
      {line.kind !== "picture" && <Player plays={line.kind} src={address} name={line.name} />}
      {line.kind === "picture" && (
        <a href={address} target="_blank" rel="noreferrer">
          <img src={address} alt={line.name} loading="lazy" className="max-h-40 border border-hairline" />
        </a>
      )}
    </li>
  );
}
