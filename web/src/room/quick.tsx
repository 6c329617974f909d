import { t } from "@lingui/core/macro";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";

/** A question made up on the spot: spoken, with so many letters to choose from. */
export function Quick({ onClose, onAsk }: { onClose: () => void; onAsk: (options: number) => void }) {
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Quick question`}
      says={t`Ask it aloud. The wall and the devices show only letters; say which was right when you like.`}
    >
      <div className="flex flex-wrap gap-2">
        {[2, 3, 4, 5, 6].map((options) => (
          <Button key={options} variant={options === 4 ? "main" : "plain"} onClick={() => onAsk(options)}>
            {t`A to ${String.fromCharCode(64 + options)}`}
          </Button>
        ))}
      </div>
    </Dialog>
  );
}
