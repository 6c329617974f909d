import { useQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { useSkills } from "../bank/skill-picker";
import { Checkbox } from "../ui/checkbox";
import { Choice, Field, Problem } from "../ui/field";
import { Hint } from "../ui/hint";
import { NumberInput } from "../ui/number-input";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { WordPicker } from "../ui/word-picker";
import { amount, figure, many } from "../ui/words";
import type { Layout } from "./layout";

type Props = { testId: number; layout: Layout; keptAt: Date | null; onChange: (layout: Layout) => void };

/** Skills and marks wanted against what is there, and what the test will probably do. */
export function Plan({ testId, layout, keptAt, onChange }: Props) {
  const skills = useSkills().data?.map((skill) => skill.name) ?? [];
  const found = useQuery({
    // Foretold from what the server has, so it is asked again whenever a change is kept.
    queryKey: ["foretold", testId, keptAt?.getTime() ?? 0],
    queryFn: () => read(api.GET("/api/v1/tests/{test_id}/foretold", { params: { path: { test_id: testId } } })),
    placeholderData: (before) => before,
  });
  const wanted = (skill: string, marks: number) => {
    const others = layout.plan.filter((row) => row.skill !== skill);
    onChange({ ...layout, plan: marks ? [...others, { skill, marks }] : others });
  };
  const lines = found.data?.lines ?? [];
  const planned = layout.plan.reduce((sum, row) => sum + row.marks, 0);
  return (
    <>
      <Problem error={found.error} />
      {found.data && <Expected foretold={found.data} />}
      <Region name="Skills and marks" remark={planned > 0 && `${amount(planned, 0)} marks planned`}>
        <Table
          caption="Skills, marks wanted and there"
          heads={[
            { label: "Skill" },
            { label: "Wanted", right: true },
            { label: "There", right: true },
            { label: "Against the plan", silent: true },
          ]}
        >
          {lines.map((line) => (
            <Row key={line.skill}>
              <Cell>{line.skill}</Cell>
              <Cell right>
                <NumberInput
                  label={`Marks wanted on ${line.skill}`}
                  className="w-16! py-0! text-right"
                  min={0}
                  step={0.5}
                  value={layout.plan.find((row) => row.skill === line.skill)?.marks ?? null}
                  onChange={(marks) => wanted(line.skill, marks ?? 0)}
                />
              </Cell>
              <Cell right>{amount(line.there, line.there % 1 ? 1 : 0)}</Cell>
              <Cell>
                <span className={line.wanted && line.there !== line.wanted ? "text-ochre" : "text-graphite"}>
                  {line.wanted > line.there && `◐ ${amount(line.wanted - line.there, 0)} short`}
                  {line.wanted > 0 && line.wanted < line.there && `◐ ${amount(line.there - line.wanted, 0)} over`}
                  {line.wanted > 0 && line.wanted === line.there && "● as planned"}
                  {!line.wanted && many(line.questions, "question")}
                </span>
              </Cell>
            </Row>
          ))}
        </Table>
        <div className="mt-3">
          <WordPicker
            label="Plan another skill"
            words={[]}
            known={skills.filter((skill) => !lines.some((line) => line.skill === skill))}
            onChange={([skill]) => skill && wanted(skill, 1)}
          />
        </div>
      </Region>
      <Region name="How it is given">
        <div className="grid gap-x-6 pt-3 sm:grid-cols-3">
          <Field label="Marks in all">
            {() => (
              <NumberInput
                label="Marks wanted in all"
                min={0}
                value={layout.total_wanted}
                onChange={(total_wanted) => onChange({ ...layout, total_wanted })}
              />
            )}
          </Field>
          <Field label="Minutes">
            {() => (
              <NumberInput
                label="Minutes allowed"
                min={0}
                max={600}
                step={1}
                value={layout.minutes || null}
                onChange={(minutes) => onChange({ ...layout, minutes: minutes ?? 0 })}
              />
            )}
          </Field>
          <Field
            label="Forms"
            hint={layout.forms > 1 ? "Other orders of questions and options; neighbours differ." : ""}
          >
            {(id) => (
              <Choice
                id={id}
                value={layout.forms}
                onChange={(event) => onChange({ ...layout, forms: Number(event.target.value) })}
              >
                <option value={1}>one</option>
                <option value={2}>two, A and B</option>
                <option value={3}>three, A to C</option>
                <option value={4}>four, A to D</option>
              </Choice>
            )}
          </Field>
        </div>
        <Checkbox
          label="correct totals for guessing: a wrong choice among k options costs 1/(k − 1) of its marks"
          checked={layout.correct_for_guessing}
          onChange={(correct_for_guessing) => onChange({ ...layout, correct_for_guessing })}
        />
      </Region>
    </>
  );
}

/** The sentences that matter, each figure with its meaning at hand. */
function Expected({ foretold }: { foretold: Schemas["PredictedStatistics"] }) {
  const { marks, minutes, questions, known, mean, reliability, sem } = foretold;
  return (
    <Region name="What to expect">
      <p className="pt-2">
        {many(questions, "question")}, <strong>{amount(marks, marks % 1 ? 1 : 0)} marks</strong>, about{" "}
        <strong>{Math.round(minutes)} minutes</strong>.{" "}
        {mean === null || reliability === null ? (
          <span className="text-graphite">
            {known === 0
              ? "None of them was used before, so how the class will do cannot be foretold."
              : `${many(known, "question")} of it ${known === 1 ? "was" : "were"} used before: too little to foretell more.`}
          </span>
        ) : (
          <>
            An estimate from {known} of {questions} questions used before: the class will earn about{" "}
            <Hint says="The average total to expect, if this class is like the earlier ones.">
              <strong>{amount(mean)}</strong>
            </Hint>{" "}
            on average; reliability about{" "}
            <Hint says="Coefficient alpha to expect: how well the questions agree on who is strong. From each question's history, stretched to this length by the Spearman–Brown formula.">
              <strong>{figure(reliability)}</strong>
            </Hint>
            , a total good to{" "}
            <Hint says="Standard error of measurement: two thirds of students would come out within this many marks on a like test.">
              <strong>± {amount(sem)}</strong>
            </Hint>{" "}
            marks.
          </>
        )}
      </p>
    </Region>
  );
}
