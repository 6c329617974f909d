import { t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "./button";
import { Dialog } from "./dialog";
import { Field, Problem, TextInput } from "./field";
import { Line } from "./split-page";
import { useSay } from "./undo";

/** Views kept under a name: what is shown now, sorted and filtered, can be had again by it. */
export function KeptViews() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>{t`Views`}</Button>
      {open && <Views onClose={() => setOpen(false)} />}
    </>
  );
}

function Views({ onClose }: { onClose: () => void }) {
  const [name, setName] = useState("");
  const { pathname, search } = useLocation();
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useSay();
  const found = useQuery({ queryKey: ["views"], queryFn: () => read(api.GET("/api/v1/views")) });
  const keep = useMutation({
    mutationFn: () => read(api.POST("/api/v1/views", { body: { name, address: `${pathname}${search}` } })),
    onSuccess: (all) => {
      answered(client, ["views"], all);
      setName("");
    },
  });
  const back = useMutation({
    mutationFn: (body: Schemas["ViewBody"]) => read(api.POST("/api/v1/views", { body })),
    onSuccess: (all) => answered(client, ["views"], all),
  });
  const remove = useMutation({
    mutationFn: (view_id: number) => read(api.DELETE("/api/v1/views/{view_id}", { params: { path: { view_id } } })),
    onSuccess: (all) => answered(client, ["views"], all),
  });
  const takeAway = ({ id, name, address }: Schemas["ViewLine"]) =>
    remove.mutate(id, {
      onSuccess: () => say(t`The view ${name} is taken away.`, () => back.mutateAsync({ name, address })),
    });
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Views`}
      says={t`A view is a page with its order, its filters and its columns.`}
    >
      <Problem error={found.error ?? keep.error ?? remove.error} />
      {found.data?.map((one) => (
        <Line
          key={one.id}
          action={
            <Button
              variant="quiet"
              aria-label={t`take away ${one.name}`}
              onClick={() => takeAway(one)}
            >{t`take away`}</Button>
          }
        >
          <button
            type="button"
            className="text-start font-serif hover:underline"
            onClick={() => {
              navigate(one.address);
              onClose();
            }}
          >
            {one.name}
          </button>
        </Line>
      ))}
      {found.data?.length === 0 && <p className="py-2 text-graphite">{t`No view is kept yet.`}</p>}
      <form
        className="mt-4"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <Field label={t`Keep what is shown now as`}>
          {(id) => (
            <TextInput id={id} required maxLength={60} value={name} onChange={(event) => setName(event.target.value)} />
          )}
        </Field>
        <Button type="submit" variant="main" disabled={keep.isPending}>{t`Keep the view`}</Button>
      </form>
    </Dialog>
  );
}
