import { plural, t } from "@lingui/core/macro";
import { useRef, useState } from "react";
import { useParams } from "react-router";
import { Divide } from "../classes/divide";
import { Button } from "../ui/button";
import { CompactSelect } from "../ui/compact-select";
import { useInAddress } from "../ui/in-address";
import { KeptViews } from "../ui/kept-views";
import { NoPage } from "../ui/no-page";
import { SaveView } from "../ui/save-view";
import { Empty, Opening, Page } from "../ui/split-page";
import { Tools } from "../ui/tools";
import { percent } from "../ui/words";
import { Columns, lookedAt } from "./columns";
import { RecordGrid } from "./record-grid";
import { RecordNav } from "./record-nav";
import { ON_SCALE, SHOWN, type Shown } from "./record-words";
import { type ByHand, SetByHand } from "./set-by-hand";
import { useTypedNumbers } from "./type-numbers";
import { type ClassRecord as Record, type RecordStudent, useRecord } from "./use-record";

const ORDERS = { desk: t`by desk`, average: t`lowest average first`, name: t`by name` } as const;
const BELOW = { "": t`all students`, "50": t`under 50%`, "60": t`under 60%`, "80": t`under 80%` } as const;

/** A class through the year: every sitting that is over, by student, with averages that say over what. */
export function ClassRecord() {
  const classId = Number(useParams().classId);
  const part = useRef<HTMLDivElement>(null);
  const [asked, setShown] = useInAddress("shown", "");
  const [order, setOrder] = useInAddress("order", "desk");
  const [hidden, setHidden] = useInAddress("hidden", "");
  const [below, setBelow] = useInAddress("below", "");
  const [along, setAlong] = useState(false);
  const [byHand, setByHand] = useState<ByHand | null>(null);
  const found = useRecord(classId);
  const record = found.data;
  if (!record)
    return (
      <Page title={t`Record`}>
        <NoPage error={found.error} />
      </Page>
    );
  const without = hidden.split(",").filter(Boolean).map(Number);
  const seen = lookedAt(record, without, Number(below) || null, order);
  const hasScale = record.rules.scale_name !== "";
  const shown = (asked || (hasScale ? "scale" : "share")) as Shown;
  return (
    <Page
      title={t`Record of ${record.class_name}`}
      facts={`${plural(record.students.length, { one: "# student", other: "# students" })}, ${plural(record.sittings.length, { one: "# sitting", other: "# sittings" })}`}
      actions={
        <>
          <RecordNav classId={classId} />
          <Button aria-pressed={along} onClick={() => setAlong(!along)}>
            {along ? t`Done typing` : t`Type numbers`}
          </Button>
          <Divide
            classId={classId}
            by={t`average of ${record.class_name}`}
            ranked={seen.students
              .filter((student) => student.average !== null)
              .sort((a, b) => (b.average ?? 0) - (a.average ?? 0))
              .map((student) => ({ student: student.student, name: student.name, says: percent(student.average) }))}
            without={seen.students.filter((student) => student.average === null).map((student) => student.name)}
          />
          <SaveView
            name={t`Record of ${record.class_name}`}
            of={part}
            file={(form) =>
              `/api/v1/classes/${classId}/record.${form}?${new URLSearchParams({
                rows: seen.students.map((student) => student.student).join(),
                without: without.join(),
                shown,
              })}`
            }
            more={{
              name: t`For the school office`,
              says: t`OneRoster`,
              address: `/api/v1/classes/${classId}/record/oneroster.zip`,
            }}
          />
        </>
      }
    >
      <div ref={part} className="flex min-h-0 flex-1 flex-col px-6 py-4">
        {record.sittings.length === 0 ? (
          <Empty title={record.opening}>{t`A sitting is here once it is closed.`}</Empty>
        ) : (
          <>
            <Opening>{record.opening}</Opening>
            {!along && (
              <Tools>
                <CompactSelect name={t`Shown`} value={shown} of={hasScale ? ON_SCALE : SHOWN} onChange={setShown} />
                <CompactSelect name={t`Order`} value={order} of={ORDERS} onChange={setOrder} />
                <CompactSelect name={t`Students`} value={below} of={BELOW} onChange={setBelow} />
                <Columns record={record} hidden={without} onHidden={(next) => setHidden(next.join())} />
                <KeptViews />
              </Tools>
            )}
            {along ? (
              <TypedGrid
                key={`${order} ${hidden} ${below}`}
                record={lookedAt(record, without, null)}
                students={seen.students}
                // Marks are what is typed, so marks are what stands beside it.
                shown="marks"
              />
            ) : (
              <RecordGrid record={seen} shown={shown} typing={null} onSet={setByHand} />
            )}
            <p className="mt-2 text-xs text-graphite">
              {t`${record.rules.in_words} ◐ answers wait for a mark, L marks were taken off for coming late, T a teacher set it, → carried over from a term before.`}
              {!along && t` Click a number to set it by hand.`}
            </p>
          </>
        )}
      </div>
      {byHand && <SetByHand record={record} what={byHand} onClose={() => setByHand(null)} />}
    </Page>
  );
}

type TypedProps = { record: Record; students: RecordStudent[]; shown: Shown };

/** The same grid with its numbers typed along it. */
function TypedGrid({ record, students, shown }: TypedProps) {
  // Rows stay where they are while averages change under the typing hand.
  const [order] = useState(() => students.map((student) => student.student));
  const rows = order.flatMap((id) => record.students.find((student) => student.student === id) ?? []);
  const { typing, bar } = useTypedNumbers({ ...record, students: rows });
  return (
    <>
      {bar}
      <RecordGrid record={{ ...record, students: rows }} shown={shown} typing={typing} onSet={() => {}} />
    </>
  );
}
