import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { Divide } from "../classes/divide";
import { EmptyMarks } from "../grading/empty-marks";
import { LateWork } from "../grading/late-work";
import { Release } from "../grading/release";
import { type ResultLine, useResults } from "../grading/use-results";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
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
  const navigate = useNavigate();
  if (!page)
    return (
      <Page title={t`Results`}>
        <NoPage error={results.problem} />
      </Page>
    );
  const over = page.state === "closed" || page.state === "released";
  const seat =
    page.students.find((student) => student.seat === chosen) ?? page.students.find((student) => student.total !== null);
  return (
    <Page
      title={t`Results`}
      of={`${page.title} · ${page.class_name}`}
      facts={seenWords(page)}
      actions={
        <>
          <Menu
            trigger={<Button>{t`More`}</Button>}
            choices={[
              {
                name: t`Late work…`,
                says: page.lateness ? t`costs marks` : t`costs nothing`,
                onChoose: () => setAsking("late"),
              },
              {
                name: t`Questions about marks`,
                says: page.asked ? plural(page.asked, { one: "one waits", other: "# wait" }) : "",
                onChoose: () => void navigate(`/results/${page.sitting}/questions`),
              },
              { name: t`Send by mail…`, onChoose: () => setAsking("mail"), disabled: !over },
              { name: t`Fill what is empty…`, onChoose: () => setAsking("empty"), disabled: !over },
            ]}
          />
          <Divide
            classId={page.class_id}
            by={t`total in ${page.title}`}
            ranked={page.students
              .filter((student) => student.total !== null)
              .sort((a, b) => (b.total ?? 0) - (a.total ?? 0))
              .map((student) => ({ student: student.student, name: student.name, says: marks(student.total) }))}
            without={page.students.filter((student) => student.total === null).map((student) => student.name)}
          />
          <ButtonLink to={`/results/${page.sitting}/answers`}>{t`By question`}</ButtonLink>
          <ButtonLink to={`/results/${page.sitting}/skills`}>{t`By skill`}</ButtonLink>
          {page.groups.length > 0 && <ButtonLink to={`/results/${page.sitting}/groups`}>{t`By group`}</ButtonLink>}
          <ButtonLink to={`/findings/${page.sitting}`}>{t`Findings`}</ButtonLink>
          <Button variant="main" disabled={!over} onClick={() => setAsking("release")}>
            {page.released ? t`Released…` : t`Release…`}
          </Button>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`Totals`, right: t`What a student sees` }}
        left={
          <>
            <Problem error={results.error} />
            {page.asked > 0 && (
              <p className="mb-3 flex flex-wrap items-center gap-3 border-s-2 border-plum bg-plum-wash px-3 py-2 text-sm">
                <span className="min-w-0 flex-1">
                  {plural(page.asked, {
                    one: "One student asks to have a mark looked at once more.",
                    other: "# marks are to be looked at once more, as their students ask.",
                  })}
                </span>
                <ButtonLink to={`/results/${page.sitting}/questions`}>{t`Answer`}</ButtonLink>
              </p>
            )}
            {page.waiting > 0 && (
              <p className="mb-3 flex flex-wrap items-center gap-3 border-s-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
                <span className="min-w-0 flex-1">{t`◐ Partial: ${plural(page.waiting, { one: "One answer waits", other: "# answers wait" })} for a mark. What waits is in no total, nor in what a total is out of.`}</span>
                <ButtonLink to={`/marking/${page.sitting}`}>{t`Mark them`}</ButtonLink>
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
              title={t`Nobody has handed in.`}
              action={<ButtonLink to={`/sittings/${page.sitting}`}>{t`Who has not sat it`}</ButtonLink>}
            >{t`Here stands what a student sees of their result, before they see it.`}</Empty>
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
  if (page.state === "released") return t`released to all`;
  if (seen > 0) return t`seen by ${seen} of ${page.students.length}`;
  return page.rule === "released" ? t`students see nothing yet` : t`students see theirs by themselves`;
}
