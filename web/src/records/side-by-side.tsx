import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { MeansChart } from "../ui/charts/means-chart";
import { Checkbox } from "../ui/checkbox";
import { CompactSelect } from "../ui/compact-select";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { Interval, points } from "../ui/interval";
import { KeptViews } from "../ui/kept-views";
import { SaveView } from "../ui/save-view";
import { Empty, Opening, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { Tools } from "../ui/tools";
import { dayOf, percent } from "../ui/words";

type Side = Schemas["SideBySide"];
type Mean = Schemas["SideMean"];

/** Classes and marking periods beside each other; on the right the tests that several of them sat. */
export function SideBySide() {
  const part = useRef<HTMLDivElement>(null);
  const [classes, setClasses] = useInAddress("classes", "");
  const [against, setAgainst] = useInAddress("against", "");
  const [span, setSpan] = useInAddress("over", "0");
  const query = { classes, ...(against && { against: Number(against) }) };
  const found = useQuery({
    queryKey: ["record", "side-by-side", query],
    queryFn: () => read(api.GET("/api/v1/records/side-by-side", { params: { query } })),
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  const choose = (next: number[]) => {
    if (against && !next.includes(Number(against))) setAgainst("");
    setClasses(next.join());
  };
  return (
    <Page
      title={t`Classes side by side`}
      actions={
        <>
          <ButtonLink to="/records">{t`Records`}</ButtonLink>
          {page && (
            <Classes
              choices={page.choices}
              shown={classes ? classes.split(",").map(Number) : page.classes.map((schoolClass) => schoolClass.id)}
              onChange={choose}
            />
          )}
          <KeptViews />
          <SaveView
            name={t`Classes side by side`}
            of={part}
            charted
            file={(form) =>
              `/api/v1/records/side-by-side.${form}?${new URLSearchParams({ classes, ...(against && { against }) })}`
            }
          />
        </>
      }
    >
      {page && page.classes.length > 0 ? (
        <div ref={part} className="flex min-h-0 flex-1 flex-col">
          <SplitPage
            split="even"
            names={{ left: t`Classes`, right: t`Tests in common` }}
            left={
              <>
                <Problem error={found.error} />
                <Tools>
                  <CompactSelect
                    name={t`Over`}
                    value={page.spans[Number(span)] === undefined ? "0" : span}
                    of={Object.fromEntries(page.spans.map((name, at) => [String(at), name]))}
                    onChange={setSpan}
                  />
                  <CompactSelect
                    name={t`Against`}
                    value={String(page.against ?? "")}
                    of={Object.fromEntries(
                      page.classes.map((schoolClass) => [String(schoolClass.id), t`against ${schoolClass.name}`]),
                    )}
                    onChange={setAgainst}
                  />
                </Tools>
                <Opening>{page.opening}</Opening>
                <MeansChart
                  rows={page.classes.flatMap((schoolClass) => {
                    const mean = schoolClass.spans[Number(span)] ?? schoolClass.spans[0];
                    return mean ? [{ ...mean, key: String(schoolClass.id), name: schoolClass.name }] : [];
                  })}
                  whole={null}
                  wholeName=""
                />
                <Spans page={page} />
              </>
            }
            right={<Tests page={page} />}
          />
        </div>
      ) : (
        <div className="px-6 py-4">
          <Problem error={found.error} />
          {page && (
            <Empty
              title={t`There is no class yet.`}
              action={<ButtonLink to="/classes?new=1" variant="main">{t`Make a class`}</ButtonLink>}
            >{t`Classes stand beside each other once they have sat something.`}</Empty>
          )}
        </div>
      )}
    </Page>
  );
}

type ClassesProps = { choices: Side["choices"]; shown: number[]; onChange: (classes: number[]) => void };

/** Which classes stand here; those of earlier years are among them. */
function Classes({ choices, shown, onChange }: ClassesProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>{plural(shown.length, { one: "# class", other: "# classes" })}…</Button>
      <Dialog open={open} onClose={() => setOpen(false)} title={t`Which classes`} says={t`As many as eight fit.`}>
        {choices.map((choice) => (
          <Checkbox
            key={choice.id}
            label={choice.archived ? t`${choice.name}, put away` : choice.name}
            checked={shown.includes(choice.id)}
            onChange={(on) => onChange(on ? [...shown, choice.id] : shown.filter((id) => id !== choice.id))}
          />
        ))}
      </Dialog>
    </>
  );
}

function Spans({ page }: { page: Side }) {
  return (
    <Region name={t`Share of the marks, period by period`} remark={t`with 95% intervals`}>
      <div className="relative overflow-x-auto">
        <Table
          caption={t`Share of the marks by class and period`}
          heads={[{ label: t`Class` }, ...page.spans.map((name) => ({ label: name, right: true }))]}
        >
          {page.classes.map((schoolClass) => (
            <Row key={schoolClass.id} selected={schoolClass.id === page.against}>
              <Cell>
                <Link to={`/records/${schoolClass.id}`} className="font-serif wrap-anywhere hover:underline">
                  {schoolClass.name}
                </Link>
                <span className="block text-xs text-graphite">
                  {`${plural(schoolClass.students, { one: "# student", other: "# students" })}, ${plural(schoolClass.sittings, { one: "# sitting", other: "# sittings" })}`}
                </span>
              </Cell>
              {page.spans.map((name, at) => (
                <Cell key={name} right>
                  <MeanWords mean={schoolClass.spans[at]} before={page.spans[at - 1] ?? ""} />
                </Cell>
              ))}
            </Row>
          ))}
        </Table>
      </div>
      <p className="mt-2 text-xs text-graphite">{t`Bold and marked ◆ where it differs from the class it is put against by more than chance brings. Since the term before: in percentage points, over the students who have both.`}</p>
    </Region>
  );
}

function MeanWords({ mean, before }: { mean: Mean | undefined; before: string }) {
  if (!mean || mean.mean === null) return <span className="text-graphite">–</span>;
  return (
    <>
      <span className={mean.sure ? "font-semibold text-plum" : ""}>
        {percent(mean.mean)}
        {mean.sure && (
          <>
            {" ◆"}
            <span className="sr-only"> {t`differs`}</span>
          </>
        )}
      </span>
      <Interval low={mean.low} high={mean.high} />
      {mean.change !== null && (
        <span className="block text-xs text-graphite" title={t`since ${before}`}>
          {t`${points(mean.change)} since before`}
        </span>
      )}
    </>
  );
}

function Tests({ page }: { page: Side }) {
  if (page.tests.length === 0)
    return (
      <Empty
        title={t`No test in common.`}
      >{t`What several of these classes sat stands here, side by side. Give a test to another class too, or again next year.`}</Empty>
    );
  return (
    <Region name={t`Tests in common`} remark={t`each class’s latest sitting of it`}>
      <div className="relative overflow-x-auto">
        <Table
          caption={t`Tests that several classes sat`}
          heads={[{ label: t`Test` }, ...page.classes.map((schoolClass) => ({ label: schoolClass.name, right: true }))]}
        >
          {page.tests.map((test) => (
            <Row key={test.cells.map((cell) => cell?.sitting).join()}>
              <Cell>
                <span className="font-serif wrap-anywhere">{test.title}</span>
              </Cell>
              {test.cells.map((cell, at) => (
                <Cell key={page.classes[at]?.id} right>
                  {cell ? (
                    <>
                      <Link to={`/findings/${cell.sitting}?view=other-sittings`} className="hover:underline">
                        <MeanWords mean={cell.result} before="" />
                      </Link>
                      <span className="block text-xs text-graphite">
                        {`${plural(cell.result.count, { one: "# student", other: "# students" })}, ${dayOf(cell.held_on)}`}
                      </span>
                    </>
                  ) : (
                    <span className="text-graphite">–</span>
                  )}
                </Cell>
              ))}
            </Row>
          ))}
        </Table>
      </div>
    </Region>
  );
}
