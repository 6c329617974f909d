import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Problem, TextInput } from "../ui/field";
import { ReasonField } from "../ui/reason-field";
import { SegmentedControl } from "../ui/segmented-control";
import { useSay } from "../ui/undo";
import { amount, dayOf, figure, listed } from "../ui/words";

type Props = { sittingId: number; question: Schemas["ReadQuestion"] };
type Way = "right" | "weights" | "everybody" | "out";
const WAYS: Record<Way, string> = {
  right: t`Which answers are right`,
  weights: t`What each criterion counts`,
  everybody: t`Everybody has the marks`,
  out: t`Leave it out`,
};

/** Kinds of which what was typed can be judged answer by answer. */
const TYPED = new Set(["short_text", "numeric", "gaps"]);

/** Change how a question is scored in this sitting: first what it does, then the deed, with a reason; and back. */
export function Settle({ sittingId, question }: Props) {
  const [open, setOpen] = useState(false);
  const path = { sitting_id: sittingId, item: question.ref };
  const client = useQueryClient();
  const say = useSay();
  const now = useQuery({
    queryKey: ["settling", sittingId, question.ref],
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/settling/{item}", { params: { path } })),
  });
  const refresh = () => {
    void changed(client, "key");
  };
  const back = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/sittings/{sitting_id}/settling/{item}", { params: { path } })),
    onSuccess: () => {
      refresh();
      say(t`The key of question ${question.label} holds again.`);
    },
  });
  if (!now.data) return null;
  const { by_key, left_out, everybody, answers, criteria, reason, by, at } = now.data;
  const right = answers.filter((answer) => answer.right).map((answer) => answer.letter);
  return (
    <div className="mb-5 flex flex-wrap items-center gap-x-3 gap-y-2 border-y border-hairline py-2 text-sm">
      {by_key ? (
        <span className="min-w-0 flex-1 text-graphite">
          {criteria.length ? t`Should a criterion count for more?` : t`Is the key wrong, or a second answer right?`}
        </span>
      ) : (
        <span className="min-w-0 flex-1">
          <strong className="text-plum">
            {left_out
              ? t`Left out`
              : criteria.length
                ? t`Settled weights`
                : everybody
                  ? t`Everybody has the marks`
                  : t`Settled: ${listed(right)}`}
          </strong>
          {reason && ` “${reason}”`}
          {by && <span className="text-graphite">, {`${by}, ${at ? dayOf(at) : ""}`}</span>}
        </span>
      )}
      {!by_key && (
        <Button variant="quiet" disabled={back.isPending} onClick={() => back.mutate()}>{t`take it back`}</Button>
      )}
      {TYPED.has(question.kind) && (
        <ButtonLink to={`/marking/${sittingId}/same/${question.ref}`}>{t`Same answers`}</ButtonLink>
      )}
      <Button onClick={() => setOpen(true)}>{t`Settle it…`}</Button>
      <Problem error={back.error} />
      <Dialog
        open={open}
        wide
        onClose={() => setOpen(false)}
        title={t`Settle question ${question.label}`}
        says={t`Nothing changes before you say so, and it can be taken back.`}
      >
        <Decide
          path={path}
          now={now.data}
          onDone={() => {
            setOpen(false);
            refresh();
            say(t`Question ${question.label} is settled.`, () => back.mutateAsync());
          }}
        />
      </Dialog>
    </div>
  );
}

type DecideProps = { path: { sitting_id: number; item: string }; now: Schemas["KeyDecisionPage"]; onDone: () => void };

function Decide({ path, now, onDone }: DecideProps) {
  const byHand = now.criteria.length > 0;
  const ways: Way[] = byHand
    ? ["weights", "out"]
    : now.answers.length
      ? ["right", "everybody", "out"]
      : ["everybody", "out"];
  const [way, setWay] = useState<Way>(ways[0] ?? "out");
  const [weights, setWeights] = useState(
    Object.fromEntries(now.criteria.map((criterion) => [criterion.id, criterion.weight])),
  );
  const [accepted, setAccepted] = useState(now.answers.filter((answer) => answer.right).map((answer) => answer.id));
  const [reason, setReason] = useState("");
  // The same paper has the same key, so its other sittings are asked about, and begin with yes.
  const [also, setAlso] = useState(now.others.map((one) => one.sitting));
  const [bank, setBank] = useState(true);
  const follows = now.bank_follows && way === "right" && accepted.length === 1;
  const decision = {
    accepted: way === "right" ? accepted : [],
    everybody: way === "everybody",
    left_out: way === "out",
    weights: way === "weights" ? weights : {},
  };
  const ready =
    way === "right" ? accepted.length > 0 : way !== "weights" || Object.values(weights).every((weight) => weight >= 0);
  const effect = useQuery({
    queryKey: ["settling", path.sitting_id, path.item, decision],
    enabled: ready,
    queryFn: () =>
      read(api.POST("/api/v1/sittings/{sitting_id}/settling/{item}/effect", { params: { path }, body: decision })),
    placeholderData: (before) => before,
  });
  const settle = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/settling/{item}", {
          params: { path },
          body: { ...decision, reason, also, bank: follows && bank },
        }),
      ),
    onSuccess: onDone,
  });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        settle.mutate();
      }}
    >
      <SegmentedControl
        label={t`How it is settled`}
        value={way}
        options={Object.fromEntries(ways.map((way) => [way, WAYS[way]])) as Record<Way, string>}
        onChange={setWay}
      />
      {way === "right" && (
        <div className="mb-4">
          {now.answers.map((answer) => (
            <Checkbox
              key={answer.id}
              label={`${answer.letter.length <= 2 ? `${answer.letter}  ` : ""}${answer.text}`}
              checked={accepted.includes(answer.id)}
              onChange={(on) =>
                setAccepted(on ? [...accepted, answer.id] : accepted.filter((one) => one !== answer.id))
              }
            />
          ))}
        </div>
      )}
      {way === "weights" && (
        <div className="mb-4">
          {now.criteria.map((criterion) => (
            <label key={criterion.id} className="flex items-center justify-between gap-3 py-1 text-sm">
              <span>
                {criterion.name}{" "}
                <span className="text-graphite">{t`up to ${amount(criterion.max, criterion.max % 1 ? 1 : 0)} points`}</span>
              </span>
              <TextInput
                type="number"
                className="w-24!"
                required
                min={0}
                max={1000}
                step="any"
                value={Number.isNaN(weights[criterion.id]) ? "" : weights[criterion.id]}
                onChange={(event) => setWeights({ ...weights, [criterion.id]: event.target.valueAsNumber })}
              />
            </label>
          ))}
          <p className="mt-1 text-sm text-graphite">{t`How much each counts beside the others. The marks of the question stay as many as they are.`}</p>
        </div>
      )}
      {ready && effect.data && <Effect effect={effect.data} />}
      {now.others.length > 0 && (
        <fieldset className="mb-3 text-sm">
          <legend className="font-semibold">{t`Here, and in the other sittings of this paper`}</legend>
          {now.others.map((one) => (
            <Checkbox
              key={one.sitting}
              label={`${one.class_name}, ${dayOf(one.held_on)}`}
              checked={also.includes(one.sitting)}
              onChange={(on) => setAlso(on ? [...also, one.sitting] : also.filter((pk) => pk !== one.sitting))}
            />
          ))}
        </fieldset>
      )}
      {follows && (
        <div className="mb-3 text-sm">
          <Checkbox
            label={t`and the key of the question in the bank, for the next test`}
            checked={bank}
            onChange={setBank}
          />
        </div>
      )}
      {now.in_bank && way === "right" && !follows && (
        <p className="mb-3 text-sm text-graphite">
          <Trans>
            The bank keeps its key for the next test.{" "}
            <Link className="text-iris underline" to={`/bank/${path.item}`}>
              Change it there too
            </Link>
          </Trans>
        </p>
      )}
      <Problem error={effect.error ?? settle.error} />
      <ReasonField value={reason} hint={t`It stays with the marks, for whoever asks.`} onChange={setReason} />
      <Button
        type="submit"
        variant="main"
        disabled={!ready || !reason.trim() || settle.isPending}
      >{t`Settle it`}</Button>
    </form>
  );
}

/** Whose total would change, and the figures of the test before and after. */
function Effect({ effect }: { effect: Schemas["EffectPage"] }) {
  const up = effect.moved.filter((one) => one.after > one.before);
  const down = effect.moved.filter((one) => one.after < one.before);
  const crossed = effect.moved.filter((one) => one.band_before !== one.band_after);
  const names = (some: typeof up) =>
    some.map((one) => `${one.name} ${amount(one.before)} → ${amount(one.after)}`).join(", ");
  return (
    <section aria-label={t`What it does`} className="mb-4 border-s-2 border-iris bg-iris-wash px-4 py-2 text-sm">
      <p>
        <strong>
          {effect.moved.length === 0
            ? t`Nobody’s total changes.`
            : t`${plural(effect.moved.length, { one: "# total", other: "# totals" })} of ${effect.students} would change: ${up.length} up, ${down.length} down.`}
        </strong>{" "}
        {t`Mean ${amount(effect.mean_before)} of ${amount(effect.of_before)} → ${amount(effect.mean_after)} of ${amount(effect.of_after)}; alpha ${figure(effect.alpha_before)} → ${figure(effect.alpha_after)}.`}
      </p>
      {crossed.length > 0 && (
        <p className="mt-1">
          {t`${plural(crossed.length, { one: "# student", other: "# students" })} would cross a band: ${crossed.map((one) => `${one.name} ${one.band_before} → ${one.band_after}`).join(", ")}.`}
        </p>
      )}
      {up.length > 0 && <p className="mt-1 max-h-24 overflow-y-auto text-graphite">{t`Up: ${names(up)}.`}</p>}
      {down.length > 0 && <p className="mt-1 max-h-24 overflow-y-auto text-graphite">{t`Down: ${names(down)}.`}</p>}
    </section>
  );
}
