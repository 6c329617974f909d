import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import type { Sitting } from "./use-sitting";

type Props = { page: Sitting; onClose: () => void; onEnd: (pausedGoOn: boolean) => void };

/** What becomes of everyone is said before a sitting ends. */
export function Closing({ page, onClose, onEnd }: Props) {
  const [goOn, setGoOn] = useState(true);
  const paused = page.list.filter((seat) => seat.state === "paused");
  return (
    <Dialog open onClose={onClose} title={t`Close this sitting?`} says={closingWords(page)}>
      {paused.length > 0 && (
        <div className="mb-4">
          <Checkbox
            label={t`${paused.map((seat) => seat.name).join(", ")}: paused, and may go on another day where they were`}
            checked={goOn}
            onChange={setGoOn}
          />
          {!goOn && <p className="text-sm text-graphite">{t`What they have answered counts as handed in.`}</p>}
        </div>
      )}
      <div className="flex justify-end gap-3">
        <Button onClick={onClose}>{t`Keep it open`}</Button>
        <Button
          variant="main"
          onClick={() => {
            onClose();
            onEnd(goOn);
          }}
        >{t`Close it`}</Button>
      </div>
    </Dialog>
  );
}

function closingWords({ list }: Sitting): string {
  const count = (...states: Sitting["list"][number]["state"][]) =>
    list.filter((seat) => states.includes(seat.state) && !seat.sits_later).length;
  const working = count("working");
  const missing = count("expected", "at the door");
  const later = list.filter((seat) => seat.sits_later && seat.state !== "handed in").length;
  const parts = [
    working &&
      t`${plural(working, { one: "# student", other: "# students" })} still at work: what they have answered counts as handed in.`,
    missing && t`${plural(missing, { one: "# student", other: "# students" })} not here: marked absent.`,
    later && t`${plural(later, { one: "# student", other: "# students" })} sitting it later: not touched.`,
  ].filter(Boolean);
  if (parts.length === 0 && count("paused") === 0) parts.push(t`Everyone has handed in.`);
  return t`${parts.join(" ")} You can open it again later.`;
}
