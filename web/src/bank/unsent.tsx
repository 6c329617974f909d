import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Dialog } from "../ui/dialog";
import { ScrollBox } from "../ui/scroll-box";

/** What a file that was sent could not carry, question by question. */
export function Unsent({ unsent, onClose }: { unsent: Schemas["Unsent"][]; onClose: () => void }) {
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Not everything could go along`}
      says={t`The file is saved. Left out of it:`}
    >
      <ScrollBox label={t`What was left out`}>
        <ul>
          {unsent.map((line) => (
            <li key={line.words} className="border-b border-hairline py-1.5">
              <span className="font-serif">{line.words}</span>
              {line.lost.map((lost) => (
                <span key={lost} className="block text-sm text-ochre">
                  ◐ {lost}
                </span>
              ))}
            </li>
          ))}
        </ul>
      </ScrollBox>
    </Dialog>
  );
}
