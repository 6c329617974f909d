import { useRef } from "react";
import { Button } from "./button";

type Props = { label: string; accept: string; hint?: string; onFile: (file: File) => void };

/** The button that takes a file of this computer. */
export function ChooseFile({ label, accept, hint, onFile }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="mb-3 flex items-center gap-3">
      <Button look="main" onClick={() => input.current?.click()}>
        Choose a file
      </Button>
      {hint && <span className="text-sm text-graphite">{hint}</span>}
      <input
        ref={input}
        type="file"
        aria-label={label}
        accept={accept}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = "";
        }}
      />
    </div>
  );
}
