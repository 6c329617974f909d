import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { NumberInput } from "../ui/number-input";
import { momentOf } from "../ui/words";
import type { MarkingItem, MarkToSend } from "./types";
import { pageKey } from "./use-marking";

type Criterion = MarkingItem["rubric"]["criteria"][number];
type Level = NonNullable<Criterion["levels"]>[number];
type Levels = Record<string, Level[]>;
type Props = { sittingId: number; item: Pick<MarkingItem, "ref" | "number">; onClose: () => void };

/** The levels of a rubric, split, merged or reworded while answers are marked; the marks that this touches first. */
export function LevelsDialog({ sittingId, item, onClose }: Props) {
  const client = useQueryClient();
  const path = { sitting_id: sittingId, item: item.ref };
  const key = ["rubric", sittingId, item.ref];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/rubric", { params: { path } })),
  });
  const [edited, setEdited] = useState<Levels | null>(null);
  const [reason, setReason] = useState("");
  const [again, setAgain] = useState(true);
  const outbox = useOutbox();
  useOutboxState();
  // A mark that is given by the old words and arrives after the change would be asked about by nobody.
  const unsent = outbox.of<MarkToSend>("mark").filter(({ body, parked, refusal }) => {
    // In a shared pile the levels are those of all of its sittings.
    const mine = body.item === item.ref && (body.sitting === sittingId || body.mark.turn === "pile");
    return mine && !parked && !refusal && !body.mark.draft;
  }).length;
  const criteria = found.data?.criteria ?? [];
  const levels: Levels = edited ?? Object.fromEntries(criteria.map((one) => [one.id, one.levels ?? []]));
  const effect = useQuery({
    queryKey: [...key, "effect", edited],
    queryFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/marking/{item}/rubric/effect", { params: { path }, body: { levels } }),
      ),
    enabled: edited !== null,
    placeholderData: (before) => before,
    retry: false,
  });
  const changed = () => {
    void client.invalidateQueries({ queryKey: key });
    void client.invalidateQueries({ queryKey: pageKey(sittingId, "first") });
    void client.invalidateQueries({ queryKey: ["answer"] });
    void client.invalidateQueries({ queryKey: ["pile"] });
    onClose();
  };
  const keep = useMutation({
    mutationFn: () =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/{item}/rubric", {
          params: { path },
          body: { levels, reason, look_again: again },
        }),
      ),
    onSuccess: changed,
  });
  const takeBack = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/sittings/{sitting_id}/marking/{item}/rubric", { params: { path } })),
    onSuccess: changed,
  });
  const set = (id: string, some: Level[]) => setEdited({ ...levels, [id]: some });
  const last = found.data?.revisions[0];
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Levels of question ${item.number}`}
      says={
        (found.data?.sittings ?? 1) > 1
          ? t`For all ${found.data?.sittings ?? 1} classes of the shared pile. Marks that are given stay as they are.`
          : t`Marks that are given stay as they are; those that were given by other words can be looked at again.`
      }
    >
      <Problem error={found.error ?? takeBack.error} />
      {last && (
        <p className="mb-3 flex flex-wrap items-center gap-3 border-s-2 border-hairline ps-3 text-sm">
          <span className="min-w-0 flex-1 wrap-anywhere">
            {t`Changed ${momentOf(last.at)} by ${last.by}: ${last.reason}`}
          </span>
          <Button disabled={takeBack.isPending} onClick={() => takeBack.mutate()}>{t`Put back as it was`}</Button>
        </p>
      )}
      {criteria.map((criterion) => (
        <CriterionLevels
          key={criterion.id}
          criterion={criterion}
          levels={levels[criterion.id] ?? []}
          onChange={(some) => set(criterion.id, some)}
        />
      ))}
      {edited && (
        <form
          className="sticky -bottom-6 -mx-1 border-t border-hairline bg-page px-1 pt-3 pb-6"
          onSubmit={(event) => {
            event.preventDefault();
            keep.mutate();
          }}
        >
          <Problem error={effect.error} />
          {effect.data && <Effect effect={effect.data} />}
          {unsent > 0 && (
            <p role="status" className="mb-2 text-sm">
              {plural(unsent, {
                one: "One mark of yours for this question has not been sent yet; the levels can be changed once it has.",
                other:
                  "# marks of yours for this question have not been sent yet; the levels can be changed once they have.",
              })}
            </p>
          )}
          {(effect.data?.marks ?? 0) > 0 && (
            <Checkbox label={t`Ask their markers to look at them again`} checked={again} onChange={setAgain} />
          )}
          <Field label={t`Why they are changed`}>
            {(id) => (
              <TextInput id={id} maxLength={300} value={reason} onChange={(event) => setReason(event.target.value)} />
            )}
          </Field>
          <Problem error={keep.error} />
          <Button
            type="submit"
            variant="main"
            disabled={keep.isPending || !reason.trim() || effect.isError || unsent > 0}
          >{t`Change the levels`}</Button>
        </form>
      )}
    </Dialog>
  );
}

function Effect({ effect }: { effect: Schemas["RubricEffect"] }) {
  if (effect.marks === 0) return <p className="mb-2 text-sm">{t`No mark that was given is touched by this.`}</p>;
  return (
    <div role="status" className="mb-2 text-sm">
      <p className="font-semibold">
        {plural(effect.marks, {
          one: "One given mark is touched by this:",
          other: "# given marks are touched by this:",
        })}
      </p>
      <ul>
        {effect.lines.map((line) => (
          <li key={`${line.criterion} ${line.marker}`}>
            {t`${line.criterion}: ${plural(line.marks, { one: "# mark", other: "# marks" })} by ${line.marker}`}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** The levels of one criterion, the best first. */
function CriterionLevels({
  criterion,
  levels,
  onChange,
}: {
  criterion: Criterion;
  levels: Level[];
  onChange: (levels: Level[]) => void;
}) {
  const sorted = [...levels].sort((a, b) => b.points - a.points);
  const put = (level: Level, by: Partial<Level>) =>
    onChange(levels.map((one) => (one === level ? { ...one, ...by } : one)));
  const below = (level: Level) => sorted[sorted.indexOf(level) + 1];
  const split = (level: Level) => {
    const under = below(level)?.points ?? 0;
    // Half points are the smallest there are.
    const points = Math.round(level.points + under) / 2;
    if (points !== level.points && points !== under) onChange([...levels, { points, words: level.words ?? "" }]);
  };
  const merge = (level: Level) => {
    const under = below(level);
    if (!under) return;
    const words = [level.words, under.words].filter(Boolean).join(" / ").slice(0, 600);
    onChange(levels.filter((one) => one !== under).map((one) => (one === level ? { ...one, words } : one)));
  };
  const splits = (level: Level) => level.points - (below(level)?.points ?? 0) > 0.5;
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 font-semibold">{t`${criterion.name ?? ""}, of ${criterion.max ?? 0}`}</legend>
      {sorted.map((level, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two levels may be worth the same while they are typed
        <div key={at} className="mb-1.5 flex flex-wrap items-center gap-2">
          <NumberInput
            className="w-20!"
            label={t`Points of level ${sorted.length - at}`}
            value={level.points}
            min={0}
            max={criterion.max ?? 0}
            step={0.5}
            onChange={(points) => points !== null && put(level, { points })}
          />
          <TextInput
            className="min-w-48 flex-1"
            aria-label={t`Words of level ${sorted.length - at}`}
            maxLength={600}
            value={level.words ?? ""}
            onChange={(event) => put(level, { words: event.target.value })}
          />
          <Button variant="quiet" disabled={!splits(level)} onClick={() => split(level)}>{t`split`}</Button>
          <Button
            variant="quiet"
            disabled={!below(level)}
            onClick={() => merge(level)}
          >{t`merge with the one below`}</Button>
        </div>
      ))}
      {levels.length === 0 && (
        <Button
          onClick={() =>
            onChange([
              { points: 0, words: "" },
              { points: criterion.max ?? 0, words: "" },
            ])
          }
        >{t`Describe it in levels`}</Button>
      )}
    </fieldset>
  );
}
