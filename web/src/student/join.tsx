import { useState } from "react";
import { join, type SeatPage } from "./api";
import { Alert, BigButton, Sheet } from "./parts";

export function Join({ onSeat }: { onSeat: (seat: SeatPage) => void }) {
  const [code, setCode] = useState(new URLSearchParams(location.search).get("code") ?? "");
  const [pass, setPass] = useState("");
  const [says, setSays] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    setSays(null);
    try {
      onSeat(await join(code, pass));
    } catch (error) {
      setSays((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Sheet title="Take your seat.">
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          void submit();
        }}
      >
        <BigField label="Code on the board" example="word-12" value={code} onChange={setCode} />
        <BigField label="Your pass" example="word-123" value={pass} onChange={setPass} />
        <Alert says={says} />
        <BigButton look="main" type="submit" className="w-full" disabled={busy}>
          Come in
        </BigButton>
      </form>
      <p className="mt-6 text-base text-graphite">
        The pass is the word and number on your slip. Capitals and the dash do not matter.
      </p>
    </Sheet>
  );
}

type BigFieldProps = { label: string; example: string; value: string; onChange: (value: string) => void };

function BigField({ label, example, value, onChange }: BigFieldProps) {
  return (
    <label>
      {label}
      <input
        className="mt-1 mb-5 block min-h-12 w-full rounded-xs border border-edge bg-page px-3 font-serif text-xl"
        required
        autoCapitalize="none"
        autoComplete="off"
        spellCheck={false}
        placeholder={example}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
