import { t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { Page, Region } from "../ui/split-page";

type Choices = Schemas["ComparisonChoices"];

/** Putting the answers to a question before judges, who say of two which is better. */
export function NewComparison() {
  const sittingId = Number(useParams().sittingId);
  const found = useQuery({
    queryKey: ["comparison", "of", sittingId],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/marking/comparing", { params: { path: { sitting_id: sittingId } } })),
  });
  return (
    <Page
      title={t`Compare in pairs`}
      of={found.data?.title}
      actions={<ButtonLink to={`/marking/${sittingId}`}>{t`Back to marking`}</ButtonLink>}
    >
      <div className="max-w-3xl px-6 py-4 lg:min-h-0 lg:overflow-y-auto">
        <Problem error={found.error} />
        {found.data &&
          (found.data.questions.length > 0 ? (
            <Plan choices={found.data} />
          ) : (
            <p className="text-graphite">{t`This test has no question whose answers can lie beside each other.`}</p>
          ))}
      </div>
    </Page>
  );
}

function Plan({ choices }: { choices: Choices }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [item, setItem] = useState(choices.questions[0]?.ref ?? "");
  const question = choices.questions.find((one) => one.ref === item);
  const [criterion, setCriterion] = useState("");
  const chosen = question?.criteria.find((one) => one.id === criterion) ?? question?.criteria[0];
  const [asked, setAsked] = useState("");
  const [each, setEach] = useState(12);
  const [notOwn, setNotOwn] = useState(false);
  const [judges, setJudges] = useState(choices.colleagues.slice(0, 1).map((one) => one.id));
  const [sittings, setSittings] = useState(choices.sittings.map((one) => one.sitting));
  const begin = useMutation({
    mutationFn: (body: Schemas["ComparisonBody"]) => read(api.POST("/api/v1/comparisons", { body })),
    onSuccess: async (comparison) => {
      await changed(client, "comparison");
      navigate(`/comparisons/${comparison.id}`, { replace: true });
    },
  });
  const toggled = (list: number[], one: number, taken: boolean) =>
    taken ? [...list, one] : list.filter((other) => other !== one);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (chosen)
          begin.mutate({ sittings, item, criterion: chosen.id, question: asked, judges, each, not_own: notOwn });
      }}
    >
      <Region name={t`Which is better?`}>
        <p className="mt-2 mb-3 text-graphite">
          {t`Judges see two answers beside each other and say which is better. From many such pairs comes one scale for all; the marks of two or more answers you know turn it into marks.`}
        </p>
        <Problem error={begin.error} />
        <Field label={t`The answers to`}>
          {(id) => (
            <Choice id={id} value={item} onChange={(event) => setItem(event.target.value)}>
              {choices.questions.map((one) => (
                <option key={one.ref} value={one.ref}>
                  {t`${one.number}: ${one.words}`}
                </option>
              ))}
            </Choice>
          )}
        </Field>
        {question && question.criteria.length > 1 && (
          <Field label={t`Compared by`} hint={t`Marks are made for this criterion.`}>
            {(id) => (
              <Choice id={id} value={chosen?.id} onChange={(event) => setCriterion(event.target.value)}>
                {question.criteria.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </Choice>
            )}
          </Field>
        )}
        <Field label={t`What judges are asked`} hint={t`For example: Which explains the circuit better?`}>
          {(id) => (
            <TextInput
              id={id}
              required
              maxLength={200}
              value={asked}
              onChange={(event) => setAsked(event.target.value)}
            />
          )}
        </Field>
        {choices.sittings.length > 1 && (
          <fieldset className="mb-3">
            <legend className="mb-1 text-sm font-semibold">{t`Whose answers`}</legend>
            {choices.sittings.map((one) => (
              <Checkbox
                key={one.sitting}
                label={one.class_name}
                checked={sittings.includes(one.sitting)}
                onChange={(taken) => setSittings(toggled(sittings, one.sitting, taken))}
              />
            ))}
          </fieldset>
        )}
        <fieldset className="mb-3">
          <legend className="mb-1 text-sm font-semibold">{t`Who judges`}</legend>
          <div className="grid gap-x-4 sm:grid-cols-2">
            {choices.colleagues.map((one) => (
              <Checkbox
                key={one.id}
                label={<bdi>{one.name}</bdi>}
                checked={judges.includes(one.id)}
                onChange={(taken) => setJudges(toggled(judges, one.id, taken))}
              />
            ))}
          </div>
        </fieldset>
        <Checkbox label={t`Nobody judges work of a class in which they teach`} checked={notOwn} onChange={setNotOwn} />
        <Field
          label={t`How often each answer is compared`}
          hint={t`12 give a scale of reliability .80 where answers differ as those of one class do; 8 where they differ much.`}
        >
          {(id) => (
            <TextInput
              id={id}
              type="number"
              required
              min={2}
              max={60}
              value={each}
              onChange={(event) => setEach(event.target.valueAsNumber)}
            />
          )}
        </Field>
        <Button
          type="submit"
          variant="main"
          className="mt-3"
          disabled={begin.isPending || judges.length === 0 || sittings.length === 0}
        >{t`Begin comparing`}</Button>
      </Region>
    </form>
  );
}
