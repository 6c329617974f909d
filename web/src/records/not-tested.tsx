import { t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem, TextInput } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { SaveView } from "../ui/save-view";
import { Opening, Page, Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { dayOf } from "../ui/words";
import { RecordNav } from "./record-nav";
import { useRecordChange } from "./use-record";

type Student = Schemas["NotTested"];
const WINDOW_DAYS = 30;

const day = (ago: number) => {
  const date = new Date();
  date.setDate(date.getDate() - ago);
  return date.toISOString().slice(0, 10);
};

/** Who has not been tested in a window of days, each with what they can sit now. */
export function NotTestedPage() {
  const classId = Number(useParams().classId);
  const part = useRef<HTMLDivElement>(null);
  const [starts, setStarts] = useInAddress("from", day(WINDOW_DAYS));
  const [ends, setEnds] = useInAddress("to", day(0));
  const found = useQuery({
    queryKey: ["record", classId, "not tested", starts, ends],
    queryFn: () =>
      read(
        api.GET("/api/v1/classes/{class_id}/not-tested", {
          params: { path: { class_id: classId }, query: { starts, ends } },
        }),
      ),
    enabled: starts !== "" && ends !== "",
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  const pick = (label: string, value: string, onChange: (value: string) => void) => (
    <TextInput
      type="date"
      className="w-40! py-0.5!"
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
    />
  );
  return (
    <Page
      title={t`Not tested`}
      actions={
        <>
          <RecordNav classId={classId} />
          {pick(t`From`, starts, setStarts)}
          {pick(t`To`, ends, setEnds)}
          <SaveView
            name={t`Not tested, ${starts} to ${ends}`}
            of={part}
            file={(form) => `/api/v1/classes/${classId}/not-tested.${form}?${new URLSearchParams({ starts, ends })}`}
          />
        </>
      }
    >
      <div ref={part} className="min-h-0 flex-1 px-6 py-4 lg:overflow-y-auto">
        <Problem error={found.error} />
        {page && (
          <>
            <Opening>{page.opening}</Opening>
            {page.nothing.length > 0 && <Students name={t`No total in these days`} students={page.nothing} />}
            {page.something.length > 0 && <Students name={t`Missed something`} students={page.something} />}
          </>
        )}
      </div>
    </Page>
  );
}

function Students({ name, students }: { name: string; students: Student[] }) {
  const say = useSay();
  const sit = useRecordChange(({ sitting, seat }: { sitting: number; seat: number; who: string }) =>
    read(
      api.POST("/api/v1/sittings/{sitting_id}/seats/{seat_id}/acts", {
        params: { path: { sitting_id: sitting, seat_id: seat } },
        body: { act: "sit now", minutes: 0, comment: "", to: null, form: "" },
      }),
    ),
  );
  return (
    <Region name={`${name}: ${students.length}`}>
      <Problem error={sit.error} />
      <Table
        caption={name}
        heads={[
          { label: t`Student` },
          { label: t`Last tested`, right: true },
          { label: t`Missed` },
          { label: t`What to do`, silent: true },
        ]}
      >
        {students.map((one) => (
          <Row key={one.student}>
            <Cell>
              <span className="font-serif">{one.name}</span>
            </Cell>
            <Cell right>{one.last ? dayOf(one.last) : t`never`}</Cell>
            <Cell>
              {one.missed.map((missed) => `${missed.title}, ${dayOf(missed.held_on)}`).join("; ") || t`had no seat`}
            </Cell>
            <Cell right>
              <span className="flex flex-wrap justify-end gap-2" data-screen-only>
                {one.missed.slice(0, 2).map((missed) => (
                  <Button
                    key={missed.sitting}
                    aria-label={t`Sit now: ${one.name}, ${missed.title}`}
                    disabled={sit.isPending}
                    onClick={() =>
                      sit.mutate(
                        { sitting: missed.sitting, seat: missed.seat, who: one.name },
                        { onSuccess: () => say(t`${one.name} can sit ${missed.title} now, with their pass.`) },
                      )
                    }
                  >{t`Sit now`}</Button>
                ))}
                {one.missed.length === 0 && <ButtonLink to="/sittings?new=1">{t`A sitting for them`}</ButtonLink>}
              </span>
            </Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}
