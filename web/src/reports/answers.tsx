import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { inWords } from "../ui/code-words";
import { CompactSelect } from "../ui/compact-select";
import { Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { LongTable } from "../ui/long-table";
import { Menu } from "../ui/menu";
import { NotYet } from "../ui/not-yet";
import { NumberInput } from "../ui/number-input";
import { Opening, Page } from "../ui/split-page";
import { amount, percent, questionName } from "../ui/words";

type Data = Schemas["AnswersByQuestion"];
const ROW = 28;
const FORMATS = [
  ["pdf", t`Document to hand out`, "PDF"],
  ["docx", t`Document to go on with`, "DOCX"],
  ["xlsx", t`Workbook`, "XLSX"],
  ["ods", t`Workbook, open format`, "ODS"],
  ["csv", t`Table`, "CSV"],
  ["json", t`For a program`, "JSON"],
  ["xml", t`For another program`, "XML"],
] as const;

/** Students down, questions across: what each said or earned, their totals, and how the class did beside the school. */
export function AnswersPage() {
  const sittingId = Number(useParams().sittingId);
  const [cut, setCut] = useInAddress("cut", "50");
  const [group, setGroup] = useInAddress("group", "");
  const query = { cut: Number(cut), group };
  const found = useQuery({
    queryKey: ["results", sittingId, "answers", query],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/answers", { params: { path: { sitting_id: sittingId }, query } })),
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  const file = (form: string) =>
    location.assign(`/api/v1/sittings/${sittingId}/answers.${form}?${new URLSearchParams({ cut, group })}`);
  return (
    <Page
      title={t`Answers by question`}
      facts={page?.title}
      actions={
        <>
          <ButtonLink to={`/results/${sittingId}`}>{t`Results`}</ButtonLink>
          <ButtonLink to={`/findings/${sittingId}`}>{t`Findings`}</ButtonLink>
          <Menu
            trigger={<Button disabled={!page}>{t`Save`}</Button>}
            choices={FORMATS.map(([form, name, says]) => ({ name, says, onChoose: () => file(form) }))}
          />
        </>
      }
    >
      <div className="flex min-h-0 flex-1 flex-col px-6 py-4">
        {page && <Problem error={found.error} />}
        <NotYet
          error={page ? null : found.error}
          title={t`There are no answers by question yet.`}
          action={<ButtonLink to={`/sittings/${sittingId}`} variant="main">{t`The sitting`}</ButtonLink>}
        />
        {page && (
          <>
            <Opening>{page.opening}</Opening>
            <div className="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2 text-sm text-graphite">
              {page.groups.length > 0 && (
                <CompactSelect
                  name={t`Students`}
                  value={group}
                  of={Object.fromEntries([
                    ["", t`everybody`],
                    ...page.groups.map((one) => [one.key, `${one.name} (${one.students})`]),
                  ])}
                  onChange={setGroup}
                />
              )}
              <span className="flex items-baseline gap-2">
                {t`The cut is`}
                <NumberInput
                  label={t`Percent of the marks at the cut`}
                  className="w-16! py-0! text-end"
                  min={0}
                  max={100}
                  step={1}
                  value={Number(cut)}
                  onChange={(value) => setCut(String(value ?? 50))}
                />
                {t`% of the marks`}
              </span>
              <span className="basis-full">{page.legend}</span>
              {page.waiting.length > 0 && (
                <span className="basis-full text-ochre">{t`◐ Without ${plural(page.waiting.length, { one: "question", other: "questions" })} ${page.waiting.join(", ")}: not all answers are marked.`}</span>
              )}
            </div>
            <Grid page={page} />
          </>
        )}
      </div>
    </Page>
  );
}

function Grid({ page }: { page: Data }) {
  const words = page.students.some((student) => student.word);
  const school = page.questions.some((question) => question.school !== null);
  return (
    <LongTable
      name={t`Answers by question`}
      height={ROW}
      rows={page.students.length}
      heads={
        <tr>
          <th
            scope="col"
            className="sticky top-0 start-0 z-20 min-w-40 border-b border-edge bg-page px-2 py-1 text-start"
          >{t`Student`}</th>
          {page.questions.map((question) => (
            <th key={question.ref} scope="col" className={HEAD}>
              <Link
                to={`/findings/${page.sitting}?question=${question.number}`}
                title={questionName(question.label)}
                className="hover:underline"
              >
                {question.label}
              </Link>
            </th>
          ))}
          <th scope="col" className={HEAD}>
            {t`Of ${amount(page.of, page.of % 1 ? 1 : 0)}`}
          </th>
          <th scope="col" className={HEAD}>{t`Share`}</th>
          {words && <th scope="col" className={HEAD}>{t`Scale`}</th>}
        </tr>
      }
      row={(at) => {
        const student = page.students[at];
        return student && <Line key={student.seat} page={page} student={student} words={words} />;
      }}
      foot={
        <>
          <Foot name={t`Key`} page={page} values={page.questions.map((question) => question.key)} words={words} />
          <Foot
            name={t`Share of the marks`}
            page={page}
            values={page.questions.map((question) => percent(question.share))}
            words={words}
            end={page.mean}
          />
          {school && (
            <Foot
              name={t`In the school`}
              page={page}
              values={page.questions.map((question) => percent(question.school))}
              words={words}
            />
          )}
        </>
      }
    />
  );
}

const HEAD = "sticky top-0 z-10 border-b border-edge bg-page px-1.5 py-1 text-center font-semibold";
const NAME =
  "sticky start-0 z-10 border-b border-hairline bg-page px-2 text-start font-serif font-normal whitespace-nowrap";
const INK: Record<string, string> = {
  right: "text-teal",
  wrong: "text-clay",
  part: "text-ochre",
};

type LineProps = { page: Data; student: Data["students"][number]; words: boolean };

function Line({ page, student, words }: LineProps) {
  return (
    <tr style={{ height: ROW }}>
      <th scope="row" className={NAME}>
        <span className="me-2 inline-block w-5 text-end font-sans text-xs text-graphite">{student.desk}</span>
        <Link to={`/results/${page.sitting}?seat=${student.seat}`} className="hover:underline">
          <bdi>{student.name}</bdi>
        </Link>
      </th>
      {student.cells.map((cell, at) => {
        const question = page.questions[at];
        return (
          <td
            key={question?.ref}
            className={`min-w-8 border-b border-hairline text-center ${INK[cell.outcome] ?? "text-graphite"}`}
          >
            {cell.text && (
              <Link
                to={`/results/${page.sitting}?seat=${student.seat}`}
                aria-label={t`${student.name}, question ${question?.label ?? ""}: ${inWords(cell.outcome)} ${cell.outcome === "wrong" ? cell.text : ""}`}
                className="block hover:underline"
              >
                {cell.text}
              </Link>
            )}
          </td>
        );
      })}
      <td className="border-b border-hairline px-2 text-end font-semibold">
        {amount(student.total, student.total % 1 ? 1 : 0)}
      </td>
      <td className={`border-b border-hairline px-2 text-end whitespace-nowrap ${student.reaches ? "" : "text-clay"}`}>
        {!student.reaches && <span title={t`Under the cut`}>◇ </span>}
        {percent(student.share)}
      </td>
      {words && <td className="border-b border-hairline px-2 text-center">{student.word}</td>}
    </tr>
  );
}

type FootProps = { name: string; page: Data; values: string[]; words: boolean; end?: number | null };

function Foot({ name, page, values, words, end = null }: FootProps) {
  return (
    <tr className="text-xs">
      <th scope="row" className="sticky start-0 z-10 border-t border-edge bg-page px-2 py-1 text-start font-semibold">
        {name}
      </th>
      {values.map((value, at) => (
        <td key={page.questions[at]?.ref} className="border-t border-edge px-1 text-center">
          {value}
        </td>
      ))}
      <td className="border-t border-edge px-2 text-end font-semibold">{end === null ? "" : amount(end)}</td>
      <td className="border-t border-edge px-2 text-end">{end === null ? "" : percent(end / page.of)}</td>
      {words && <td className="border-t border-edge" />}
    </tr>
  );
}
