import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { BandSign } from "../ui/band-sign";
import { Button, ButtonLink } from "../ui/button";
import { GrowthChart } from "../ui/charts/growth-chart";
import { Checkbox } from "../ui/checkbox";
import { inWords } from "../ui/code-words";
import { Problem } from "../ui/field";
import { saveBlob } from "../ui/files";
import { NoPage } from "../ui/no-page";
import { SaveView } from "../ui/save-view";
import { Empty, Opening, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { amount, dayOf, percent } from "../ui/words";

type Report = Schemas["StudentReport"];

/** Everything about one student, for a talk with the parents. */
export function StudentReport() {
  const { classId, studentId } = useParams();
  const part = useRef<HTMLDivElement>(null);
  const [papers, setPapers] = useState<number[]>([]);
  const [said, setSaid] = useState(true);
  const path = { class_id: Number(classId), student_id: Number(studentId) };
  const found = useQuery({
    queryKey: ["record", path.class_id, "student", path.student_id],
    queryFn: () => read(api.GET("/api/v1/classes/{class_id}/students/{student_id}/report", { params: { path } })),
  });
  const make = useMutation({
    mutationFn: async ({ full_name }: Report) => {
      const query = { papers: papers.join(), said };
      const file = await read(
        api.GET("/api/v1/classes/{class_id}/students/{student_id}/report.pdf", {
          params: { path, query },
          parseAs: "blob",
        }),
      );
      saveBlob(`${full_name}.pdf`, file as unknown as Blob);
    },
  });
  const report = found.data;
  if (!report)
    return (
      <Page title={t`Student`}>
        <NoPage error={found.error} />
      </Page>
    );
  return (
    <Page
      title={report.full_name}
      facts={report.class_name}
      actions={
        <>
          <ButtonLink to={`/records/${report.class_id}`}>{t`The class`}</ButtonLink>
          {report.sittings.some((sitting) => sitting.comment) && (
            <Checkbox label={t`with what was said`} checked={said} onChange={setSaid} />
          )}
          <SaveView
            name={`${report.full_name}, ${report.class_name}`}
            of={part}
            charted
            file={(form) =>
              `/api/v1/classes/${report.class_id}/students/${report.student}/report.${form}?comments=${said}`
            }
          />
          <Button variant="main" disabled={make.isPending} onClick={() => make.mutate(report)}>
            {make.isPending
              ? t`Writing…`
              : papers.length
                ? t`PDF with ${plural(papers.length, { one: "# paper", other: "# papers" })}`
                : t`PDF to hand out`}
          </Button>
        </>
      }
    >
      <div ref={part} className="flex min-h-0 flex-1 flex-col">
        <Problem error={make.error} />
        <SplitPage
          split="even"
          names={{ left: t`Over the year`, right: t`Skills` }}
          left={<Year report={report} said={said} papers={papers} onPapers={setPapers} />}
          right={<Skills report={report} />}
        />
      </div>
    </Page>
  );
}

type YearProps = { report: Report; said: boolean; papers: number[]; onPapers: (papers: number[]) => void };

function Year({ report, said, papers, onPapers }: YearProps) {
  const points = [...report.sittings]
    .reverse()
    .flatMap((sitting) =>
      sitting.cell.share === null
        ? []
        : [{ held_on: sitting.held_on, title: sitting.title, share: sitting.cell.share, of_class: sitting.class_mean }],
    );
  if (report.sittings.length === 0)
    return <Empty title={report.opening}>{t`A sitting is here once it is closed.`}</Empty>;
  return (
    <>
      <Opening>{report.opening}</Opening>
      {points.length > 1 && <GrowthChart points={points} name={report.name} />}
      {report.terms.length > 0 && (
        <p className="mt-2 mb-5 flex flex-wrap gap-x-5 text-sm">
          {report.terms.map((term, at) => {
            const cell = report.standing.terms[at];
            return (
              <span key={term.id}>
                {term.name}: <strong>{cell?.said || percent(cell?.share)}</strong>
                {cell?.said && ` (${percent(cell.share)})`}
                {cell?.carried && <span className="text-graphite"> {t`carried over`}</span>}
                {cell?.set && <span className="text-graphite"> {t`set: ${cell.set}`}</span>}
              </span>
            );
          })}
        </p>
      )}
      <Region name={t`Tests, newest first`} remark={t`tick those whose papers go with the PDF`}>
        <Table
          caption={t`Tests`}
          heads={[
            { label: t`With it`, silent: true },
            { label: t`Test` },
            { label: t`Marks`, right: true },
            { label: t`Share`, right: true },
            { label: t`The class`, right: true },
          ]}
        >
          {report.sittings.map((sitting) => (
            <Row key={sitting.id}>
              <Cell>
                {sitting.cell.share !== null && (
                  <input
                    type="checkbox"
                    className="size-4 accent-[var(--ink)]"
                    aria-label={t`The paper of ${sitting.title} goes with it`}
                    checked={papers.includes(sitting.id)}
                    onChange={(event) =>
                      onPapers(
                        event.target.checked ? [...papers, sitting.id] : papers.filter((id) => id !== sitting.id),
                      )
                    }
                  />
                )}
              </Cell>
              <Cell>
                <Link to={`/results/${sitting.id}`} className="font-serif wrap-anywhere">
                  {sitting.title}
                </Link>
                <span className="block text-xs text-graphite">{dayOf(sitting.held_on)}</span>
                {said && sitting.comment && (
                  <span className="block text-sm whitespace-pre-line">{sitting.comment}</span>
                )}
              </Cell>
              <Cell right>
                {sitting.cell.total === null
                  ? inWords(sitting.cell.word)
                  : t`${amount(sitting.cell.total, sitting.cell.total % 1 ? 1 : 0)} of ${amount(sitting.cell.of, (sitting.cell.of ?? 0) % 1 ? 1 : 0)}`}
              </Cell>
              <Cell right>
                <strong>{percent(sitting.cell.share)}</strong> {sitting.cell.said}
              </Cell>
              <Cell right>{percent(sitting.class_mean)}</Cell>
            </Row>
          ))}
        </Table>
      </Region>
    </>
  );
}

function Skills({ report }: { report: Report }) {
  if (report.skills.length === 0)
    return (
      <Empty title={t`No skill yet.`}>{t`Skills are here once a question that names one has been answered.`}</Empty>
    );
  return (
    <Region name={t`Skills, those that want work first`} remark={t`over all tests`}>
      <Table
        caption={t`Skills`}
        heads={[
          { label: t`Skill` },
          { label: t`Band` },
          { label: t`Share`, right: true },
          { label: t`Marks`, right: true },
          { label: t`Last tested`, right: true },
        ]}
      >
        {report.skills.map((skill) => (
          <Row key={skill.name}>
            <Cell>
              <span className="font-serif wrap-anywhere">{skill.name}</span>
            </Cell>
            <Cell>
              <BandSign band={skill.band} words />
            </Cell>
            <Cell right>{percent(skill.share)}</Cell>
            <Cell right>{t`${amount(skill.earned, skill.earned % 1 ? 1 : 0)} of ${amount(skill.of, 0)}`}</Cell>
            <Cell right>{dayOf(skill.last)}</Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}
