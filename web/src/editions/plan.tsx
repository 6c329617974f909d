import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { useSkills } from "../bank/skill-picker";
import { Checkbox } from "../ui/checkbox";
import { Choice, Field, Problem } from "../ui/field";
import { NumberInput } from "../ui/number-input";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { WordPicker } from "../ui/word-picker";
import { amount } from "../ui/words";
import { Expected, type ForetoldOf } from "./expected";
import type { Layout } from "./layout";

type Props = { testId: number; layout: Layout; keptAt: Date | null; onChange: (layout: Layout) => void };

/** Skills and marks wanted against what is there, and what the test will probably do. */
export function Plan({ testId, layout, keptAt, onChange }: Props) {
  const [of, setOf] = useState<ForetoldOf>({ students: null, cut: 50 });
  const skills = useSkills().data?.map((skill) => skill.name) ?? [];
  const found = useQuery({
    // Foretold from what the server has, so it is asked again whenever a change is kept.
    queryKey: ["foretold", testId, keptAt?.getTime() ?? 0, of],
    queryFn: () =>
      read(api.GET("/api/v1/tests/{test_id}/foretold", { params: { path: { test_id: testId }, query: of } })),
    placeholderData: (before) => before,
  });
  const wanted = (skill: string, marks: number) => {
    const others = layout.plan.filter((row) => row.skill !== skill);
    onChange({ ...layout, plan: marks ? [...others, { skill, marks }] : others });
  };
  const lines = found.data?.predicted.lines ?? [];
  const planned = layout.plan.reduce((sum, row) => sum + row.marks, 0);
  return (
    <>
      <Problem error={found.error} />
      {found.data && <Expected page={found.data} wanted={of} onWanted={setOf} />}
      <Region name={t`Skills and marks`} remark={planned > 0 && t`${amount(planned, 0)} marks planned`}>
        <Table
          caption={t`Skills, marks wanted and there`}
          heads={[
            { label: t`Skill` },
            { label: t`Wanted`, right: true },
            { label: t`There`, right: true },
            { label: t`Against the plan`, silent: true },
          ]}
        >
          {lines.map((line) => (
            <Row key={line.skill}>
              <Cell>{line.skill}</Cell>
              <Cell right>
                <NumberInput
                  label={t`Marks wanted on ${line.skill}`}
                  className="w-16! py-0! text-end"
                  min={0}
                  step={0.5}
                  value={layout.plan.find((row) => row.skill === line.skill)?.marks ?? null}
                  onChange={(marks) => wanted(line.skill, marks ?? 0)}
                />
              </Cell>
              <Cell right>{amount(line.there, line.there % 1 ? 1 : 0)}</Cell>
              <Cell>
                <span className={line.wanted && line.there !== line.wanted ? "text-ochre" : "text-graphite"}>
                  {line.wanted > line.there && t`◐ ${amount(line.wanted - line.there, 0)} short`}
                  {line.wanted > 0 && line.wanted < line.there && t`◐ ${amount(line.there - line.wanted, 0)} over`}
                  {line.wanted > 0 && line.wanted === line.there && t`● as planned`}
                  {!line.wanted && plural(line.questions, { one: "# question", other: "# questions" })}
                </span>
              </Cell>
            </Row>
          ))}
        </Table>
        <div className="mt-3">
          <WordPicker
            label={t`Plan another skill`}
            words={[]}
            known={skills.filter((skill) => !lines.some((line) => line.skill === skill))}
            onChange={([skill]) => skill && wanted(skill, 1)}
          />
        </div>
      </Region>
      <Region name={t`How it is given`}>
        <div className="grid gap-x-6 pt-3 sm:grid-cols-3">
          <Field label={t`Marks in all`}>
            {() => (
              <NumberInput
                label={t`Marks wanted in all`}
                min={0}
                value={layout.total_wanted}
                onChange={(total_wanted) => onChange({ ...layout, total_wanted })}
              />
            )}
          </Field>
          <Field label={t`Minutes`}>
            {() => (
              <NumberInput
                label={t`Minutes allowed`}
                min={0}
                max={600}
                step={1}
                value={layout.minutes || null}
                onChange={(minutes) => onChange({ ...layout, minutes: minutes ?? 0 })}
              />
            )}
          </Field>
          <Field
            label={t`Forms`}
            hint={layout.forms > 1 ? t`Other orders of questions and options; neighbours differ.` : ""}
          >
            {(id) => (
              <Choice
                id={id}
                value={layout.forms}
                onChange={(event) => onChange({ ...layout, forms: Number(event.target.value) })}
              >
                <option value={1}>{t`one`}</option>
                <option value={2}>{t`two, A and B`}</option>
                <option value={3}>{t`three, A to C`}</option>
                <option value={4}>{t`four, A to D`}</option>
              </Choice>
            )}
          </Field>
        </div>
        <Checkbox
          label={t`correct totals for guessing: a wrong choice among k options costs 1/(k − 1) of its marks`}
          checked={layout.correct_for_guessing}
          onChange={(correct_for_guessing) => onChange({ ...layout, correct_for_guessing })}
        />
      </Region>
    </>
  );
}
