import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Hint } from "../ui/hint";

type Props = { of: Pick<Schemas["FlagNote"], "probability" | "how_sure"> };

/** How sure a finding is, as a figure beside the word of its heading; what that means is at hand. */
export function Sure({ of }: Props) {
  return (
    <Hint says={of.how_sure}>
      <strong>{t`${Math.min(99, Math.round(100 * of.probability))} in 100`}</strong>
    </Hint>
  );
}
