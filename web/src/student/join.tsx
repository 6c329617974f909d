import { t } from "@lingui/core/macro";
import { useEffect, useState } from "react";
import { choose } from "../language/choose";
import { LANGUAGES, type Language, language } from "../language/locales";
import { LanguageLine } from "../ui/language-line";
import { byName } from "../ui/words";
import { join, namesToPick, pickName, type SeatPage } from "./api";
import { Alert, BigButton, Sheet } from "./parts";

type Names = Awaited<ReturnType<typeof namesToPick>>;
const SHORTEST_CODE = 4;

/** The door: a code and a pass, or, where the teacher allows it, a code and one's name from the list. */
export function Join({ onSeat }: { onSeat: (seat: SeatPage) => void }) {
  const [code, setCode] = useState(new URLSearchParams(location.search).get("code") ?? "");
  const [pass, setPass] = useState("");
  const [names, setNames] = useState<Names>(null);
  const [says, setSays] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const comeIn = async (enter: Promise<SeatPage>) => {
    setBusy(true);
    setSays(null);
    try {
      const seat = await enter;
      const own = seat.needs.language;
      // The class list says in which language they read; what a device shows now is somebody else's.
      if (own in LANGUAGES && own !== language()) choose(own as Language);
      else onSeat(seat);
    } catch (error) {
      setSays((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const lookForNames = async (typed: string) => {
    // A wrong code is told when one comes in, not while it is being typed.
    if (typed.trim().length >= SHORTEST_CODE) setNames(await namesToPick(typed).catch(() => null));
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, for a code that came with the address
  useEffect(() => void lookForNames(code), []);
  return (
    <Sheet title={t`Take your seat.`}>
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          void comeIn(join(code, pass));
        }}
      >
        <BigField
          label={t`Code on the board`}
          example="word-12"
          value={code}
          onChange={setCode}
          onDone={() => void lookForNames(code)}
        />
        {names && (
          <fieldset className="mb-5">
            <legend className="mb-2">{t`Who are you?`}</legend>
            <div className="flex flex-wrap gap-2">
              {names
                .toSorted((one, other) => byName(one.name, other.name))
                .map(({ seat, name, taken }) => (
                  <BigButton key={seat} disabled={busy || taken} onClick={() => void comeIn(pickName(code, seat))}>
                    {name}
                    {taken && <span className="text-base font-normal"> {t`is in`}</span>}
                  </BigButton>
                ))}
            </div>
          </fieldset>
        )}
        <BigField label={names ? t`Or your pass` : t`Your pass`} example="word-123" value={pass} onChange={setPass} />
        <Alert says={says} />
        <BigButton look="main" type="submit" className="w-full" disabled={busy}>{t`Come in`}</BigButton>
      </form>
      <p className="mt-6 text-base text-graphite">{t`The pass is the word and number on your slip. Capitals and the dash do not matter.`}</p>
      <LanguageLine className="mt-6 text-base" />
    </Sheet>
  );
}

type BigFieldProps = {
  label: string;
  example: string;
  value: string;
  onChange: (value: string) => void;
  onDone?: () => void;
};

export function BigField({ label, example, value, onChange, onDone }: BigFieldProps) {
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
        onBlur={onDone}
      />
    </label>
  );
}
