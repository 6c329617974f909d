import { t } from "@lingui/core/macro";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Field, TextInput } from "../ui/field";
import { SegmentedControl } from "../ui/segmented-control";

type Body = Schemas["SecondBody"];
const WAYS: Record<Body["which"], string> = { all: t`All`, sample: t`A sample`, near: t`Near a cut` };
const NEW: Body = { which: "sample", share: 20, cut: 50, within: 5, tolerance: 1, mean: false };

type Props = { plan: Body | null; busy: boolean; onPlan: (plan: Body) => void };

/** Which answers get a second mark, and what becomes of two. */
export function SecondPlan({ plan, busy, onPlan }: Props) {
  const [now, setNow] = useState<Body>(plan ?? NEW);
  const number = (name: "share" | "cut" | "within" | "tolerance", label: string, hint: string, step: number) => (
    <Field label={label} hint={hint}>
      {(id) => (
        <TextInput
          id={id}
          type="number"
          required
          min={name === "share" ? 1 : 0}
          max={100}
          step={step}
          value={now[name]}
          onChange={(event) => setNow({ ...now, [name]: event.target.valueAsNumber })}
        />
      )}
    </Field>
  );
  return (
    <form
      className="pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        onPlan(now);
      }}
    >
      <SegmentedControl
        label={t`Which answers`}
        value={now.which}
        options={WAYS}
        onChange={(which) => setNow({ ...now, which })}
      />
      {now.which === "sample" && number("share", t`Percent of the answers`, t`Of each question, drawn by chance.`, 1)}
      {now.which === "near" && (
        <div className="grid gap-x-5 sm:grid-cols-2">
          {number("cut", t`The cut, in percent`, t`Of all marks of the test.`, 0.5)}
          {number("within", t`So near to it`, t`Percent above and below.`, 0.5)}
        </div>
      )}
      {number(
        "tolerance",
        t`May differ by`,
        t`Marks of the question. Two that are further apart count only once you have agreed on one.`,
        0.5,
      )}
      <Checkbox
        label={t`Of two that are near enough their mean counts, rather than the first`}
        checked={now.mean ?? false}
        onChange={(mean) => setNow({ ...now, mean })}
      />
      <Button type="submit" variant="main" className="mt-3" disabled={busy}>
        {plan ? t`Change it` : t`Have them read twice`}
      </Button>
    </form>
  );
}
