import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, read } from "../api/client";
import type { Results, ResultsPage } from "../grading/use-results";
import { Checkbox } from "../ui/checkbox";
import { CompactSelect } from "../ui/compact-select";
import { useInAddress } from "../ui/in-address";
import { KeptViews } from "../ui/kept-views";
import { SaveView } from "../ui/save-view";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { Tools } from "../ui/tools";
import { begun } from "../ui/words";
import { BELOW, lookedAt, marks, ORDERS, remarks, saidOf } from "./results-view";
import { StudentMenu } from "./student-menu";

type Props = { results: Results; page: ResultsPage; chosen: number | null; onChoose: (seat: number) => void };

/** Every student’s total, in an order, of a group, with or without what was said; as it stands it can be saved. */
export function Totals({ results, page, chosen, onChoose }: Props) {
  const part = useRef<HTMLDivElement>(null);
  const [order, setOrder] = useInAddress("order", "desk");
  const [below, setBelow] = useInAddress("below", "");
  const [group, setGroup] = useInAddress("group", "");
  const [each, setEach] = useInAddress("each", "");
  const [said, setSaid] = useInAddress("said", "");
  const full = useQuery({
    queryKey: ["results", page.sitting, "full"],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/results/full", { params: { path: { sitting_id: page.sitting } } })),
    enabled: Boolean(each || said),
  }).data;
  const members = page.groups.find((one) => one.key === group)?.students;
  const students = lookedAt(page.students, members ? new Set(members) : null, { order, below, group });
  const questions = each ? (full?.questions ?? []) : [];
  const criteria = each ? (full?.criteria ?? []) : [];
  return (
    <>
      <Tools>
        <CompactSelect name={t`Order`} value={order} of={ORDERS} onChange={setOrder} />
        {page.groups.length > 0 && (
          <CompactSelect
            name={t`Students`}
            value={members ? group : ""}
            of={Object.fromEntries([["", t`everybody`], ...page.groups.map((group) => [group.key, group.name])])}
            onChange={setGroup}
          />
        )}
        <CompactSelect name={t`Totals`} value={below} of={BELOW} onChange={setBelow} />
        <span className="flex basis-full flex-wrap items-center gap-x-5 gap-y-2">
          <Checkbox label={t`every question`} checked={each === "1"} onChange={(on) => setEach(on ? "1" : "")} />
          <Checkbox label={t`what was said`} checked={said === "1"} onChange={(on) => setSaid(on ? "1" : "")} />
          <span className="ms-auto flex items-center gap-3">
            <KeptViews />
            <SaveView
              name={t`Results of ${page.title}`}
              of={part}
              file={(form) =>
                `/api/v1/sittings/${page.sitting}/results.${form}?${new URLSearchParams({
                  rows: students.map((student) => student.seat).join(),
                  each: String(each === "1"),
                  comments: String(said === "1"),
                })}`
              }
            />
          </span>
        </span>
      </Tools>
      <div ref={part}>
        <Region name={t`Totals`} remark={shownWords(students.length, page.students.length)}>
          <div className="relative overflow-x-auto">
            <Table
              caption={t`Totals`}
              heads={[
                { label: t`Desk`, right: true },
                { label: t`Student` },
                { label: t`Total`, right: true },
                { label: t`Of`, right: true },
                ...questions.map((question) => ({
                  label:
                    question.of === 1
                      ? begun(question.label, 16)
                      : t`${begun(question.label, 16)}, of ${marks(question.of)}`,
                  right: true,
                })),
                ...criteria.map((one) => ({ label: t`${begun(one.name, 16)}, of ${marks(one.of)}`, right: true })),
                ...(said ? [{ label: t`What was said` }] : []),
                { label: t`Sees` },
                { label: t`What to do`, silent: true },
              ]}
            >
              {students.map((one) => {
                const own = full?.students.find((student) => student.seat === one.seat);
                return (
                  <Row key={one.seat} selected={one.seat === chosen}>
                    <Cell right>
                      <span className="text-graphite">{one.desk}</span>
                    </Cell>
                    <Cell>
                      <button
                        type="button"
                        className="text-start font-serif text-base whitespace-nowrap"
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
                    {questions.map((question, at) => (
                      <Cell key={question.number} right>
                        {marks(own?.marks[at] ?? null)}
                      </Cell>
                    ))}
                    {criteria.map((criterion, at) => (
                      <Cell key={criterion.name} right>
                        {marks(own?.criteria[at] ?? null)}
                      </Cell>
                    ))}
                    {said && (
                      <Cell>
                        <span className="block min-w-56 whitespace-pre-line">{saidOf(full, one.seat)}</span>
                      </Cell>
                    )}
                    <Cell>{one.sees === "marks" ? t`● marks` : one.sees === "words" ? t`◐ words` : ""}</Cell>
                    <Cell right>
                      <StudentMenu results={results} student={one} />
                    </Cell>
                  </Row>
                );
              })}
            </Table>
          </div>
          {students.length === 0 && (
            <p className="py-3 text-graphite">{t`Nobody here is in that group and under that cut.`}</p>
          )}
        </Region>
      </div>
    </>
  );
}

const shownWords = (shown: number, all: number) =>
  shown === all ? plural(all, { one: "# student", other: "# students" }) : t`${shown} of ${all} students`;
