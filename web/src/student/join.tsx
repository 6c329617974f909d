import { useState } from "react";
import { join, type SeatPage } from "./api";
import { Alert, BigButton, Sheet } from "./parts";

const field = "mt-1 mb-5 block min-h-12 w-full rounded-xs border border-edge bg-page px-3 font-serif text-xl";

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
        <label>
          Code on the board
          <input
            className={field}
            required
            autoCapitalize="none"
            autoComplete="off"
            spellCheck={false}
            placeholder="word-12"
            value={code}
            onChange={(event) => setCode(event.target.value)}
          />
        </label>
        <label>
          Your pass
          <input
            className={field}
            required
            autoCapitalize="none"
            autoComplete="off"
            spellCheck={false}
            placeholder="word-123"
            value={pass}
            onChange={(event) => setPass(event.target.value)}
          />
        </label>
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
