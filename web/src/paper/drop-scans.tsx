import { t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { changed } from "../api/changes";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";
import { ACCEPTED, sendScans } from "./scans";

/** Where scans are dropped, or chosen. */
export function DropScans({ onTaken }: { onTaken: (scans: Schemas["ScanLine"][]) => void }) {
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const client = useQueryClient();
  const send = useMutation({
    mutationFn: sendScans,
    onSuccess: (scans) => {
      void changed(client, "scans");
      onTaken(scans);
    },
  });
  const take = (files: FileList | null) => {
    if (files && files.length > 0) send.mutate([...files]);
  };
  return (
    <>
      <Problem error={send.error} />
      {/* biome-ignore lint/a11y/noStaticElementInteractions: dropping is the short way; the button does the same */}
      <div
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          take(event.dataTransfer.files);
        }}
        className={`mb-5 flex flex-wrap items-center gap-4 border border-dashed px-5 py-6 ${over ? "border-iris bg-iris-wash" : "border-edge"}`}
      >
        <p className="min-w-0 flex-1">
          <span className="font-serif text-lg">{t`Drop scans here`}</span>
          <span className="block text-sm text-graphite">{t`PDF, TIFF, PNG or JPEG, in any order; sheets of several classes may go together.`}</span>
        </p>
        <Button variant="main" disabled={send.isPending} onClick={() => input.current?.click()}>
          {send.isPending ? t`Sending…` : t`Choose files`}
        </Button>
        <input
          ref={input}
          type="file"
          multiple
          aria-label={t`Scans`}
          accept={ACCEPTED}
          className="hidden"
          onChange={(event) => {
            take(event.target.files);
            event.target.value = "";
          }}
        />
      </div>
    </>
  );
}
