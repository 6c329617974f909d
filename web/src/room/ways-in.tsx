import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import type { ReactNode } from "react";
import { ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Region } from "../ui/split-page";
import { PadsTable } from "./pads";
import type { ConsolePage } from "./use-room";

type Props = { page: ConsolePage; onClose: () => void; onNames: (on: boolean) => void };

/** With what the class answers: its own devices, response pads, or folded cards before a camera. */
export function WaysIn({ page, onClose, onNames }: Props) {
  return (
    <Dialog open wide onClose={onClose} title={t`How the class answers`} says={t`All three at once, if need be.`}>
      <Region name={t`Own devices`}>
        <Says>
          <Trans>
            Students open the address on the wall, give the code <strong>{page.wall.code}</strong> and their pass.
          </Trans>
        </Says>
        <Checkbox
          label={t`They may pick their name from the list instead of giving a pass`}
          checked={page.names_to_pick}
          onChange={onNames}
        />
      </Region>
      <Region name={t`Folded cards`}>
        <Says>{t`A sheet a student, folded so that one answer shows. A camera reads the room; no pictures are kept.`}</Says>
        <p className="flex flex-wrap gap-3">
          <ButtonLink to={`/sittings/${page.sitting}/camera`} variant="main">{t`Open the camera`}</ButtonLink>
          <ButtonLink
            to={`/api/v1/cards/classes/${page.class_id}/print`}
            target="_blank"
            reloadDocument
          >{t`Print the cards, A4`}</ButtonLink>
          <ButtonLink
            to={`/api/v1/cards/classes/${page.class_id}/print?paper=Letter`}
            target="_blank"
            reloadDocument
          >{t`Letter`}</ButtonLink>
        </p>
      </Region>
      <Region name={t`Response pads`}>
        <PadsTable sittingId={page.sitting} />
      </Region>
    </Dialog>
  );
}

function Says({ children }: { children: ReactNode }) {
  return <p className="py-2">{children}</p>;
}
