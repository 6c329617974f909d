import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { useAddress } from "../api/address";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";

/** How students come in: as an address with the code, and as a picture for the cameras of their phones. */
export function WayIn({ sitting, large = false }: { sitting: Schemas["SittingLine"]; large?: boolean }) {
  const { host, reachable } = useAddress();
  return (
    <div className={`flex flex-wrap items-center ${large ? "justify-center gap-8" : "gap-5"}`}>
      <img
        src={`/api/v1/sittings/${sitting.id}/door.svg`}
        alt={t`Code for cameras that leads to ${host}/join with ${sitting.code}`}
        // White in either theme: a camera needs the contrast.
        className={`border border-hairline bg-[#fff] ${large ? "size-96 max-w-full" : "size-28"}`}
      />
      <p className={`font-serif leading-tight ${large ? "w-full text-center text-3xl" : "text-xl"}`}>
        <Trans>
          join at <strong className="whitespace-nowrap">{host}/join</strong>
        </Trans>
        <br />
        <Trans>
          with <strong className="whitespace-nowrap">{sitting.code}</strong> and your pass
        </Trans>
      </p>
      {!reachable && <Unreachable />}
    </div>
  );
}

/** Said plainly before a class stands there with phones that reach nothing. */
function Unreachable() {
  return (
    <p className="w-full border-s-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
      <Trans>
        Phones cannot reach this: the service listens on this machine alone. Start it with <code>--host 0.0.0.0</code>,
        or set <code>VERSO_ADDRESS</code> to the address that your school uses.
      </Trans>
    </p>
  );
}

/** The same as large as the screen allows, for the board. */
export function LargeWayIn({ sitting, title }: { sitting: Schemas["SittingLine"]; title: string }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>{t`Large, for the board`}</Button>
      <Dialog open={open} wide onClose={() => setOpen(false)} title={title}>
        <WayIn sitting={sitting} large />
      </Dialog>
    </>
  );
}
