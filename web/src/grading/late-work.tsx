import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { Moment } from "../delivery/plan-form";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { amount } from "../ui/words";
import type { Lateness, Results, ResultsPage } from "./use-results";

type Props = { results: Results; page: ResultsPage; onClose: () => void };

/** What handing in late costs: first whom it costs how much, then the rule. */
export function LateWork({ results, page, onClose }: Props) {
  const [rule, setRule] = useState<Lateness>(
    page.lateness ?? { due: page.ends ?? new Date().toISOString(), grace_minutes: 0, per_day: 10, most: 100 },
  );
  const sound = [rule.per_day, rule.most].every((value) => value && value > 0 && value <= 100);
  const effect = useQuery({
    queryKey: ["lateness", page.sitting, rule],
    enabled: sound,
    queryFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/results/lateness/effect", {
          params: { path: { sitting_id: page.sitting } },
          body: rule,
        }),
      ),
    placeholderData: (before) => before,
  });
  const number = (name: "grace_minutes" | "per_day" | "most", label: string, hint: string) => (
    <Field label={label} hint={hint}>
      {(id) => (
        <TextInput
          id={id}
          type="number"
          required
          min={name === "grace_minutes" ? 0 : 0.5}
          max={name === "grace_minutes" ? 10_080 : 100}
          step={name === "grace_minutes" ? 1 : 0.5}
          value={Number.isNaN(rule[name]) ? "" : rule[name]}
          onChange={(event) => setRule({ ...rule, [name]: event.target.valueAsNumber })}
        />
      )}
    </Field>
  );
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Late work`}
      says={t`Only who handed in themselves after the end is late; work that closing took in is not.`}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          results.setLateness(rule).then(onClose, () => {});
        }}
      >
        <div className="grid gap-x-5 sm:grid-cols-2">
          <Moment
            label={t`Was to be handed in by`}
            hint={t`The end of the sitting, unless you say otherwise.`}
            value={rule.due}
            onChange={(due) => due && setRule({ ...rule, due })}
          />
          {number("grace_minutes", t`Minutes of grace`, t`Within these nothing is late.`)}
          {number("per_day", t`Percent a day`, t`Of the full marks, for every day begun.`)}
          {number("most", t`At most`, t`Percent of the full marks.`)}
        </div>
        {effect.data && (
          <section aria-label={t`What it does`} className="mb-4 border-s-2 border-iris bg-iris-wash px-4 py-2 text-sm">
            <strong>
              {effect.data.length
                ? t`${plural(effect.data.length, { one: "# student", other: "# students" })} lose marks.`
                : t`Nobody loses a mark.`}
            </strong>{" "}
            {effect.data.map((one) => `${one.name} −${amount(one.lost)} → ${amount(one.total)}`).join(", ")}
          </section>
        )}
        <Problem error={effect.error ?? results.error} />
        <p className="flex gap-3">
          <Button type="submit" variant="main" disabled={!sound || results.busy}>{t`Keep the rule`}</Button>
          {page.lateness && (
            <Button
              onClick={() => {
                results.endLateness();
                onClose();
              }}
            >{t`Late work costs nothing`}</Button>
          )}
        </p>
      </form>
    </Dialog>
  );
}
