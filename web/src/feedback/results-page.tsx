import { useState } from "react";
import { useParams } from "react-router";
import { Divide } from "../classes/divide";
import { EmptyMarks } from "../grading/empty-marks";
import { LateWork } from "../grading/late-work";
import { Release } from "../grading/release";
import { type ResultLine, useResults } from "../grading/use-results";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { Menu } from "../ui/menu";
import { Empty, Page, SplitPage } from "../ui/split-page";
import { marks } from "./results-view";
import { SendByMail } from "./send-by-mail";
import { Eyes } from "./student-view";
import { Totals } from "./totals";

/** What each student has: on the left the totals and what changes them, on the right what a student sees of it. */
export function ResultsPage() {
  const results = useResults(Number(useParams().sittingId));
  const [asking, setAsking] = useState<"late" | "empty" | "mail" | "release" | null>(null);
  const [named, setNamed] = useInAddress("seat", "");
  const chosen = Number(named) || null;
  const setChosen = (wanted: number) => setNamed(String(wanted));
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
  const seat =
    page.students.find((student) => student.seat === chosen) ?? page.students.find((student) => student.total !== null);
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
              .filter((student) => student.total !== null)
              .sort((a, b) => (b.total ?? 0) - (a.total ?? 0))
              .map((student) => ({ student: student.student, name: student.name, says: marks(student.total) }))}
            without={page.students.filter((student) => student.total === null).map((student) => student.name)}
          />
          <ButtonLink to={`/results/${page.sitting}/answers`}>By question</ButtonLink>
          <ButtonLink to={`/results/${page.sitting}/skills`}>By skill</ButtonLink>
          {page.groups.length > 0 && <ButtonLink to={`/results/${page.sitting}/groups`}>By group</ButtonLink>}
          <ButtonLink to={`/findings/${page.sitting}`}>Findings</ButtonLink>
          <Button variant="main" disabled={!over} onClick={() => setAsking("release")}>
            {page.released ? "Released…" : "Release…"}
          </Button>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: "Totals", right: "What a student sees" }}
        left={
          <>
            <Problem error={results.error} />
            {page.waiting > 0 && (
              <p className="mb-3 flex flex-wrap items-center gap-3 border-l-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
                <span className="min-w-0 flex-1">
                  ◐ Partial: {page.waiting === 1 ? "One answer waits" : `${page.waiting} answers wait`} for a mark. What
                  waits is in no total, nor in what a total is out of.
                </span>
                <ButtonLink to={`/marking/${page.sitting}`}>Mark them</ButtonLink>
              </p>
            )}
            <Totals results={results} page={page} chosen={seat?.seat ?? null} onChoose={setChosen} />
          </>
        }
        right={
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
  const seen = page.students.filter((student) => student.sees).length;
  if (page.state === "released") return "released to all";
  if (seen > 0) return `seen by ${seen} of ${page.students.length}`;
  return page.rule === "released" ? "students see nothing yet" : "students see theirs by themselves";
}
