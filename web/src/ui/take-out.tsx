import { t } from "@lingui/core/macro";
import { Button } from "./button";

export function TakeOut({ what, onTake }: { what: string; onTake: () => void }) {
  return <Button variant="quiet" aria-label={t`Take out ${what}`} onClick={onTake}>{t`take out`}</Button>;
}
