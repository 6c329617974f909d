import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { GainsChart } from "../ui/charts/gains-chart";
import { Choice } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { NoPage } from "../ui/no-page";
import { SaveView } from "../ui/save-view";
import { Empty, Opening, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { amount, dayOf, figure, percent } from "../ui/words";
import { GroupByGrowth } from "./group-by-growth";
import { RecordNav } from "./record-nav";

type Growth = Schemas["Growth"];
const FALLEN = -0.1;

/** How far a class has come from one sitting to another, student by student. */
export function GrowthPage() {
  const classId = Number(useParams().classId);
  const part = useRef<HTMLDivElement>(null);
  const [before, setBefore] = useInAddress("before", "");
  const [after, setAfter] = useInAddress("after", "");
  const query = { ...(before && { before: Number(before) }), ...(after && { after: Number(after) }) };
  const found = useQuery({
    queryKey: ["growth", classId, query],
    queryFn: () =>
      read(api.GET("/api/v1/classes/{class_id}/growth", { params: { path: { class_id: classId }, query } })),
    placeholderData: keepPreviousData,
  });
  const growth = found.data;
  if (!growth)
    return (
      <Page title={t`Growth`} actions={<RecordNav classId={classId} />}>
        <NoPage error={found.error} />
      </Page>
    );
  const name = (id: number | null) => {
    const one = growth.choices.find((choice) => choice.id === id);
    return one ? `${one.title}, ${dayOf(one.held_on)}` : "";
  };
  const pick = (label: string, value: number | null, onChange: (value: string) => void) => (
    <Choice
      low
      className="w-auto!"
      aria-label={label}
      value={value ?? ""}
      onChange={(event) => onChange(event.target.value)}
    >
      {growth.choices.map((choice) => (
        <option key={choice.id} value={choice.id}>
          {name(choice.id)}
        </option>
      ))}
    </Choice>
  );
  return (
    <Page
      title={t`Growth`}
      actions={
        <>
          <RecordNav classId={classId} />
          {growth.both > 0 && <GroupByGrowth classId={classId} growth={growth} />}
          <SaveView
            name={t`Growth from ${name(growth.before)}`}
            of={part}
            charted
            file={(form) => `/api/v1/classes/${classId}/growth.${form}?before=${growth.before}&after=${growth.after}`}
          />
        </>
      }
    >
      <div ref={part} className="flex min-h-0 flex-1 flex-col">
        {growth.choices.length < 2 ? (
          <div className="px-6 py-4">
            <Empty title={growth.opening}>{t`A sitting is here once it is closed and has a total.`}</Empty>
          </div>
        ) : (
          <SplitPage
            split="even"
            names={{ left: t`From one sitting to another`, right: t`In figures` }}
            left={
              <>
                <p className="mb-3 flex flex-wrap items-center gap-2 text-sm">
                  {t`from`} {pick(t`From`, growth.before, setBefore)} {t`to`} {pick(t`To`, growth.after, setAfter)}
                </p>
                <Opening>{growth.opening}</Opening>
                {new Set(
                  growth.choices
                    .filter((choice) => [growth.before, growth.after].includes(choice.id))
                    .map((choice) => choice.title),
                ).size > 1 && (
                  <p className="mb-2 text-sm text-ochre">{t`◐ Two different tests: whether they ask as much is yours to judge.`}</p>
                )}
                <GainsChart
                  rows={growth.students.map((student) => ({ ...student, id: student.student }))}
                  before={name(growth.before)}
                  after={name(growth.after)}
                />
              </>
            }
            right={<Figures growth={growth} />}
          />
        )}
      </div>
    </Page>
  );
}

function Figures({ growth }: { growth: Growth }) {
  return (
    <>
      <Region name={t`The class, over ${growth.both}`}>
        <p className="py-2 text-sm">
          {(growth.normalised ?? -1) > 0 && (
            <Trans>
              Of what could be gained the class gained <strong>{percent(growth.normalised)}</strong>.{" "}
            </Trans>
          )}
          <Trans>
            The difference is <strong>{amount(growth.effect, 2)}</strong> standard deviations
          </Trans>
          {growth.low !== null &&
            t` (the true one lies between ${amount(growth.low, 2)} and ${amount(growth.high, 2)})`}
          .
        </p>
      </Region>
      <Region name={t`Student by student, least first`}>
        <Table
          caption={t`Growth by student`}
          heads={[
            { label: t`Student` },
            { label: t`Before`, right: true },
            { label: t`After`, right: true },
            { label: t`Gain`, right: true },
            { label: t`Of what could be`, right: true },
          ]}
        >
          {growth.students.map((one) => (
            <Row key={one.student} selected={one.gain !== null && one.gain <= FALLEN}>
              <Cell>{one.name}</Cell>
              <Cell right>{percent(one.before)}</Cell>
              <Cell right>{percent(one.after)}</Cell>
              <Cell right>{one.gain === null ? "–" : amount(100 * one.gain, 0)}</Cell>
              <Cell right>{figure(one.normalised)}</Cell>
            </Row>
          ))}
        </Table>
        <p className="mt-1 text-xs text-graphite">{t`Gain in percentage points. Of what could be gained: the gain over what was missing before (Hake 1998).`}</p>
      </Region>
    </>
  );
}
