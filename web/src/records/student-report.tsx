import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { BandSign } from "../ui/band-sign";
import { Button, ButtonLink } from "../ui/button";
import { GrowthChart } from "../ui/charts/growth-chart";
import { Problem } from "../ui/field";
import { saveBlob } from "../ui/files";
import { SaveView } from "../ui/save-view";
import { Empty, Opening, Page, Region, Spread } from "../ui/spread";
import { Cell, Row, Table } from "../ui/table";
import { Tick } from "../ui/tick";
import { amount, dayOf, many, percent } from "../ui/words";

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
    queryFn: () => read(api.GET("/api/classes/{class_id}/students/{student_id}/report", { params: { path } })),
  });
  const make = useMutation({
    mutationFn: async ({ full_name }: Report) => {
      const query = { papers: papers.join(), said };
      const file = await read(
        api.GET("/api/classes/{class_id}/students/{student_id}/report.pdf", {
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
      <Page title="Student">
        <div className="px-6">
          <Problem error={found.error} />
        </div>
      </Page>
    );
  return (
    <Page
      title={report.full_name}
      facts={report.class_name}
      actions={
        <>
          <ButtonLink to={`/records/${report.class_id}`}>The class</ButtonLink>
          {report.sittings.some((one) => one.comment) && (
            <Tick label="with what was said" checked={said} onChange={setSaid} />
          )}
          <SaveView name={`${report.full_name}, ${report.class_name}`} of={part} />
          <Button look="main" disabled={make.isPending} onClick={() => make.mutate(report)}>
            {make.isPending
              ? "Writing…"
              : papers.length
                ? `PDF with ${many(papers.length, "paper")}`
                : "PDF to hand out"}
          </Button>
        </>
      }
    >
      <div ref={part} className="flex min-h-0 flex-1 flex-col">
        <Problem error={make.error} />
        <Spread
          split="even"
          names={{ verso: "Over the year", recto: "Skills" }}
          verso={<Year report={report} said={said} papers={papers} onPapers={setPapers} />}
          recto={<Skills report={report} />}
        />
      </div>
    </Page>
  );
}

type YearProps = { report: Report; said: boolean; papers: number[]; onPapers: (papers: number[]) => void };

function Year({ report, said, papers, onPapers }: YearProps) {
  const points = [...report.sittings]
    .reverse()
    .flatMap((one) =>
      one.cell.share === null
        ? []
        : [{ held_on: one.held_on, title: one.title, share: one.cell.share, of_class: one.class_mean }],
    );
  if (report.sittings.length === 0) return <Empty title={report.opening}>A sitting is here once it is closed.</Empty>;
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
                {cell?.carried && <span className="text-graphite"> carried over</span>}
                {cell?.set && <span className="text-graphite"> set: {cell.set}</span>}
              </span>
            );
          })}
        </p>
      )}
      <Region name="Tests, newest first" remark="tick those whose papers go with the PDF">
        <Table
          caption="Tests"
          heads={[
            { label: "With it", silent: true },
            { label: "Test" },
            { label: "Marks", right: true },
            { label: "Share", right: true },
            { label: "The class", right: true },
          ]}
        >
          {report.sittings.map((one) => (
            <Row key={one.id}>
              <Cell>
                {one.cell.share !== null && (
                  <input
                    type="checkbox"
                    className="size-4 accent-[var(--ink)]"
                    aria-label={`The paper of ${one.title} goes with it`}
                    checked={papers.includes(one.id)}
                    onChange={(event) =>
                      onPapers(event.target.checked ? [...papers, one.id] : papers.filter((id) => id !== one.id))
                    }
                  />
                )}
              </Cell>
              <Cell>
                <Link to={`/results/${one.id}`} className="font-serif wrap-anywhere">
                  {one.title}
                </Link>
                <span className="block text-xs text-graphite">{dayOf(one.held_on)}</span>
                {said && one.comment && <span className="block text-sm whitespace-pre-line">{one.comment}</span>}
              </Cell>
              <Cell right>
                {one.cell.total === null
                  ? one.cell.word
                  : `${amount(one.cell.total, one.cell.total % 1 ? 1 : 0)} of ${amount(one.cell.of, (one.cell.of ?? 0) % 1 ? 1 : 0)}`}
              </Cell>
              <Cell right>
                <strong>{percent(one.cell.share)}</strong> {one.cell.said}
              </Cell>
              <Cell right>{percent(one.class_mean)}</Cell>
            </Row>
          ))}
        </Table>
      </Region>
    </>
  );
}

function Skills({ report }: { report: Report }) {
  if (report.skills.length === 0)
    return <Empty title="No skill yet.">Skills are here once a question that names one has been answered.</Empty>;
  return (
    <Region name="Skills, those that want work first" remark="over all tests">
      <Table
        caption="Skills"
        heads={[
          { label: "Skill" },
          { label: "Band" },
          { label: "Share", right: true },
          { label: "Marks", right: true },
          { label: "Last tested", right: true },
        ]}
      >
        {report.skills.map((one) => (
          <Row key={one.name}>
            <Cell>
              <span className="font-serif wrap-anywhere">{one.name}</span>
            </Cell>
            <Cell>
              <BandSign band={one.band} words />
            </Cell>
            <Cell right>{percent(one.share)}</Cell>
            <Cell right>{`${amount(one.earned, one.earned % 1 ? 1 : 0)} of ${amount(one.of, 0)}`}</Cell>
            <Cell right>{dayOf(one.last)}</Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}
