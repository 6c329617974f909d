import { t } from "@lingui/core/macro";
import { useMutation } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { LargeWayIn, WayIn } from "../delivery/way-in";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";

type Props = { sitting: Schemas["SittingLine"]; onDone: (page: Schemas["MarksPage"]) => void };

/** Students enter the marks of their own papers, while the teacher watches the rows fill. */
export function OwnEntry({ sitting, onDone }: Props) {
  const entry = useMutation({
    mutationFn: (by_students: boolean) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marks/entry", {
          params: { path: { sitting_id: sitting.id } },
          body: { by_students },
        }),
      ),
    onSuccess: onDone,
  });
  if (sitting.closed_at || sitting.seats === 0) return <Problem error={entry.error} />;
  if (sitting.state !== "open")
    return (
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <Problem error={entry.error} />
        <span className="text-graphite">{t`Key the marks in below, paste them, or have each student enter their own.`}</span>
        <Button disabled={entry.isPending} onClick={() => entry.mutate(true)}>{t`Let students enter theirs`}</Button>
      </div>
    );
  return (
    <section aria-label={t`Students enter their own marks`} className="mb-4 border border-hairline bg-page-2 px-5 py-4">
      <Problem error={entry.error} />
      <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
        <WayIn sitting={sitting} />
        <div className="ms-auto flex flex-col gap-2">
          <LargeWayIn sitting={sitting} title={t`Enter your marks`} />
          <Button
            variant="main"
            disabled={entry.isPending}
            onClick={() => entry.mutate(false)}
          >{t`Close entry`}</Button>
        </div>
      </div>
    </section>
  );
}
