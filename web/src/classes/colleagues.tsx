import { t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Choice, Problem } from "../ui/field";
import { Region } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { either } from "../ui/words";

type Page = Schemas["ClassPage"];

/** Colleagues who share the class, and what each may do. */
export function Colleagues({ page }: { page: Page }) {
  const client = useQueryClient();
  const path = { class_id: page.id };
  const known = useQuery({ queryKey: ["colleagues"], queryFn: () => read(api.GET("/api/v1/colleagues")) });
  const me = useQuery({ queryKey: ["me"], queryFn: () => read(api.GET("/api/v1/me")) });
  const admins = useQuery({ queryKey: ["admins"], queryFn: () => read(api.GET("/api/v1/admins")) });
  const say = useSay();
  const kept = { onSuccess: (next: Page) => answered(client, ["class", page.id], next) };
  const share = useMutation({
    mutationFn: (body: Schemas["ClassSharing"]) =>
      read(api.PUT("/api/v1/classes/{class_id}/co-teachers", { params: { path }, body })),
    ...kept,
  });
  const stop = useMutation({
    mutationFn: (teacher: number) =>
      read(
        api.DELETE("/api/v1/classes/{class_id}/co-teachers/{teacher_id}", {
          params: { path: { ...path, teacher_id: teacher } },
        }),
      ),
    ...kept,
  });
  const end = ({ teacher, name, may_mark, may_run }: Page["co_teachers"][number]) =>
    stop.mutate(teacher, {
      onSuccess: () =>
        say(t`${name} no longer sees this class.`, () => share.mutateAsync({ teacher, may_mark, may_run })),
    });
  const free = known.data?.filter((one) => !page.co_teachers.some((shared) => shared.teacher === one.id)) ?? [];
  return (
    <Region name={t`Colleagues`}>
      <ul>
        {page.co_teachers.map((shared) => (
          <li key={shared.teacher} className="flex flex-wrap items-center gap-x-4 border-b border-hairline py-1.5">
            <span className="min-w-32 flex-1 font-serif">{shared.name}</span>
            <span className="text-sm text-graphite">{t`may see`}</span>
            <Checkbox
              label={t`may mark`}
              checked={shared.may_mark}
              onChange={(may_mark) => share.mutate({ ...shared, may_mark })}
            />
            <Checkbox
              label={t`may run sittings`}
              checked={shared.may_run}
              onChange={(may_run) => share.mutate({ ...shared, may_run })}
            />
            <Button
              variant="quiet"
              onClick={() => end(shared)}
              aria-label={t`Stop sharing with ${shared.name}`}
            >{t`stop`}</Button>
          </li>
        ))}
      </ul>
      <Problem error={share.error ?? stop.error ?? known.error} />
      <div className="flex flex-wrap items-center gap-3 py-2">
        {free.length > 0 && (
          <Choice
            aria-label={t`Share the class with`}
            className="w-auto!"
            value=""
            onChange={(event) =>
              event.target.value &&
              share.mutate({ teacher: Number(event.target.value), may_mark: false, may_run: false })
            }
          >
            <option value="">{t`share the class with…`}</option>
            {free.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </Choice>
        )}
      </div>
      {free.length === 0 && (
        <p className="pb-2 text-sm text-graphite">
          {me.data?.is_admin ? (
            <Link className="underline underline-offset-2" to="/people">{t`Invite a colleague to the school`}</Link>
          ) : (
            admins.data && t`Colleagues get an account from ${either(admins.data)}.`
          )}
        </p>
      )}
    </Region>
  );
}
