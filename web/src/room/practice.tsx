import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";

type By = Schemas["Practice"]["by"];

const WAYS: { by: By; words: string; says: string }[] = [
  { by: "device", words: t`On devices`, says: t`answers come over the network, as from phones` },
  { by: "pad", words: t`With response pads`, says: t`a simulated receiver connects at the pads’ port` },
  { by: "card", words: t`With folded cards`, says: t`open the camera: it shows them holding their cards up` },
  { by: "each", words: t`A third of each`, says: t`as on the day half the phones are flat` },
];

/** Simulated students, to rehearse a lesson with: how they are to answer. */
export function Practice({ onClose, onBring }: { onClose: () => void; onBring: (by: By) => void }) {
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Bring in a practice class`}
      says={t`Simulated students take the seats that are free and answer whatever you ask. How?`}
    >
      <ul>
        {WAYS.map(({ by, words, says }) => (
          <li key={by} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-hairline py-2">
            <Button className="w-44" onClick={() => onBring(by)}>
              {words}
            </Button>
            <span className="min-w-0 flex-1 text-sm text-graphite">{says}</span>
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
