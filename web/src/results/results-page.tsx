import { useState } from "react";
import { useParams } from "react-router";
import { Divide } from "../classes/divide";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Menu } from "../ui/menu";
import { Empty, Page, Region, Spread } from "../ui/spread";
import { Cell, Row, Table } from "../ui/table";
import { amount, many } from "../ui/words";
import { EmptyMarks } from "./empty-marks";
import { Eyes } from "./eyes";
import { LateWork } from "./late-work";
import { Release } from "./release";
import { SendByMail } from "./send-by-mail";
import { StudentMenu } from "./student-menu";
import { type ResultLine, type Results, useResults } from "./use-results";

const marks = (value: number | null) => amount(value, value !== null && value % 1 ? 1 : 0);

/** What each student has: on the left the totals and what changes them, on the right what a student sees of it. */
export function ResultsPage() {
  const results = useResults(Number(useParams().sittingId));
  const [asking, setAsking] = useState<"late" | "empty" | "mail" | "release" | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const { page } = results;
  if (!page)
    return (
      <Page title="Results">
        <div className="px-6">
          <Problem error={results.problem} />
        </div>
      </Page>
    );
  const over = page.state === "closed" || page.state === "released";
  const seat = page.students.find((one) => one.seat === chosen) ?? page.students.find((one) => one.total !== null);
  return (
    <Page
      title="Results"
      facts={`${page.title} · ${page.class_name} · ${seenWords(page)}`}
      actions={
        <>
          <Menu
            trigger={<Button>More</Button>}
            choices={[
              {
                name: "Late work…",
                says: page.lateness ? "costs marks" : "costs nothing",
                onChoose: () => setAsking("late"),
              },
              { name: "Send by mail…", onChoose: () => setAsking("mail"), disabled: !over },
              { name: "Fill what is empty…", onChoose: () => setAsking("empty"), disabled: !over },
            ]}
          />
          <Divide
            classId={page.class_id}
            by={`total in ${page.title}`}
            ranked={page.students
              .filter((one) => one.total !== null)
              .sort((a, b) => (b.total ?? 0) - (a.total ?? 0))
              .map((one) => ({ student: one.student, name: one.name, says: marks(one.total) }))}
            without={page.students.filter((one) => one.total === null).map((one) => one.name)}
          />
          <ButtonLink to={`/results/${page.sitting}/skills`}>By skill</ButtonLink>
          <ButtonLink to={`/findings/${page.sitting}`}>Findings</ButtonLink>
          <Button look="main" disabled={!over} onClick={() => setAsking("release")}>
            {page.released ? "Released…" : "Release…"}
          </Button>
        </>
      }
    >
      <Spread
        split="even"
        names={{ verso: "Totals", recto: "What a student sees" }}
        verso={
          <>
            <Problem error={results.error} />
            {page.waiting > 0 && (
              <p className="mb-3 flex flex-wrap items-center gap-3 border-l-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
                <span className="min-w-0 flex-1">
                  ◐ Partial: {many(page.waiting, "answer")} wait for a mark. They are in nobody’s total, nor in what it
                  is out of.
                </span>
                <ButtonLink to={`/marking/${page.sitting}`}>Mark them</ButtonLink>
              </p>
            )}
            <Totals results={results} students={page.students} chosen={seat?.seat ?? null} onChoose={setChosen} />
          </>
        }
        recto={
          seat ? (
            <Eyes sittingId={page.sitting} seat={seat} released={page.released} />
          ) : (
            <Empty
              title="Nobody has handed in."
              action={<ButtonLink to={`/sittings/${page.sitting}`}>Who has not sat it</ButtonLink>}
            >
              Here stands what a student sees of their result, before they see it.
            </Empty>
          )
        }
      />
      {asking === "late" && <LateWork results={results} page={page} onClose={() => setAsking(null)} />}
      {asking === "empty" && <EmptyMarks results={results} page={page} onClose={() => setAsking(null)} />}
      {asking === "mail" && <SendByMail sittingId={page.sitting} onClose={() => setAsking(null)} />}
      {asking === "release" && <Release results={results} page={page} onClose={() => setAsking(null)} />}
    </Page>
  );
}

function seenWords(page: { state: string; rule: string; students: ResultLine[] }): string {
  const seen = page.students.filter((one) => one.sees).length;
  if (page.state === "released") return "released to all";
  if (seen > 0) return `seen by ${seen} of ${page.students.length}`;
  return page.rule === "released" ? "students see nothing yet" : "students see theirs by themselves";
}

type TotalsProps = {
  results: Results;
  students: ResultLine[];
  chosen: number | null;
  onChoose: (seat: number) => void;
};

function Totals({ results, students, chosen, onChoose }: TotalsProps) {
  return (
    <Region name="Totals" remark="in desk order">
      <div className="overflow-x-auto">
        <Table
          caption="Totals"
          heads={[
            { label: "Desk", right: true },
            { label: "Student" },
            { label: "Total", right: true },
            { label: "Of", right: true },
            { label: "Sees" },
            { label: "What to do", silent: true },
          ]}
        >
          {students.map((one) => (
            <Row key={one.seat} lit={one.seat === chosen}>
              <Cell right>
                <span className="text-graphite">{one.desk}</span>
              </Cell>
              <Cell>
                <button
                  type="button"
                  className="text-left font-serif text-base"
                  aria-current={one.seat === chosen ? "true" : undefined}
                  onClick={() => onChoose(one.seat)}
                >
                  {one.name}
                </button>
                <span className="block text-xs text-graphite">{remarks(one)}</span>
              </Cell>
              <Cell right>
                <strong>{marks(one.total)}</strong>
              </Cell>
              <Cell right>{marks(one.of)}</Cell>
              <Cell>{one.sees === "marks" ? "● marks" : one.sees === "words" ? "◐ words" : ""}</Cell>
              <Cell right>
                <StudentMenu results={results} student={one} />
              </Cell>
            </Row>
          ))}
        </Table>
      </div>
    </Region>
  );
}

function remarks(one: ResultLine): string {
  return [
    one.state !== "handed in" && one.state,
    one.set_reason && `set by hand: ${one.set_reason}`,
    !one.set_reason && one.lost > 0 && `late, ${marks(one.lost)} taken off ${marks(one.earned)}`,
    one.waiting > 0 && `${many(one.waiting, "answer")} not marked`,
    one.out_reason && `not in the figures: ${one.out_reason}`,
  ]
    .filter(Boolean)
    .join(" · ");
}
