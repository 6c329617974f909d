import { t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../../api/changes";
import { api, read, type Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Dialog } from "../../ui/dialog";
import { Problem } from "../../ui/field";
import { ReasonField } from "../../ui/reason-field";

type Flag = Schemas["FlagNote"];
type Aside = Schemas["DismissedLine"];

const same = (one: Aside, flag: Flag) =>
  one.ref === flag.ref && one.flag === flag.flag && one.options.join() === flag.options.join();

/** What the teacher said of a finding that was set aside. */
export const asideOf = (flag: Flag, aside: Aside[]): Aside | undefined => aside.find((one) => same(one, flag));

type Props = { sittingId: number; flag: Flag; aside: Aside | undefined };

/** Set a finding aside, with what one thought; it stays with the question, and can be taken up again. */
export function SetAside({ sittingId, flag, aside }: Props) {
  const [open, setOpen] = useState(false);
  const [note, setNote] = useState("");
  const client = useQueryClient();
  const path = { params: { path: { sitting_id: sittingId } } };
  const finding = { ref: flag.ref, flag: flag.flag, options: flag.options };
  const refresh = () => {
    setOpen(false);
    void changed(client, "dismissed");
  };
  const dismiss = useMutation({
    mutationFn: () =>
      read(api.POST("/api/v1/sittings/{sitting_id}/findings/dismissed", { ...path, body: { ...finding, note } })),
    onSuccess: refresh,
  });
  const takeUp = useMutation({
    mutationFn: () => read(api.POST("/api/v1/sittings/{sitting_id}/findings/taken-up", { ...path, body: finding })),
    onSuccess: refresh,
  });
  if (aside)
    return (
      <span className="text-sm text-graphite">
        {t`Set aside by ${aside.by}: “${aside.note}”`}{" "}
        <Button variant="quiet" onClick={() => takeUp.mutate()}>{t`take it up again`}</Button>
      </span>
    );
  return (
    <>
      <Button variant="quiet" onClick={() => setOpen(true)}>{t`set it aside`}</Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        title={t`Set this finding aside`}
        says={t`${flag.heading} It is no longer counted among the questions to look at.`}
      >
        <form
          onSubmit={(event) => {
            event.preventDefault();
            dismiss.mutate();
          }}
        >
          <ReasonField
            value={note}
            onChange={setNote}
            hint={t`It stays with the question, for whoever uses it next.`}
          />
          <Problem error={dismiss.error} />
          <Button type="submit" variant="main" disabled={dismiss.isPending}>{t`Set it aside`}</Button>
        </form>
      </Dialog>
    </>
  );
}
