import { t } from "@lingui/core/macro";
import { useRef } from "react";
import { Button } from "./button";

type Props = {
  label: string;
  accept: string;
  hint?: string;
  /** Takes several at once; each comes by itself. */
  several?: boolean;
  words?: string;
  look?: "main" | "plain";
  onFile: (file: File) => void;
};

/** The button that takes a file of this computer. */
export function ChooseFile({ label, accept, hint, several, words = t`Choose a file`, look = "main", onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="mb-3 flex items-center gap-3">
      <Button variant={look} onClick={() => input.current?.click()}>
        {words}
      </Button>
      {hint && <span className="text-sm text-graphite">{hint}</span>}
      <input
        ref={input}
        type="file"
        aria-label={label}
        accept={accept}
        multiple={several}
        className="hidden"
        onChange={(event) => {
          for (const file of event.target.files ?? []) onFile(file);
          event.target.value = "";
        }}
      />
    </div>
  );
}
