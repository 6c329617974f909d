import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { NoPage } from "../ui/no-page";
import { Line, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { listed, whenOf } from "../ui/words";
import { DropScans } from "./drop-scans";
import { ToSettle } from "./queries-page";

type Paper = Schemas["PaperPage"];
type Seat = Schemas["SeatOnPaper"];

/** The sheets of one sitting: what has come back, student by student; what is printed. */
export function SheetsPage() {
  const sittingId = Number(useParams().sittingId);
  const navigate = useNavigate();
  const paper = useQuery({
    queryKey: ["paper", sittingId],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/paper", { params: { path: { sitting_id: sittingId } } })),
    refetchInterval: 4000,
  });
  const found = paper.data;
  if (!found)
    return (
      <Page title={t`Answer sheets`}>
        <NoPage error={paper.error} />
      </Page>
    );
  const printed = found.batches.length > 0;
  return (
    <Page
      title={t`Answer sheets`}
      of={`${found.title} · ${found.class_name}`}
      actions={
        <>
          <ButtonLink to={`/sittings/${sittingId}`}>{t`The sitting`}</ButtonLink>
          <ButtonLink to={`/findings/${sittingId}`}>{t`Findings`}</ButtonLink>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`What has come back`, right: t`Print and scan` }}
        left={
          <>
            {printed && <ToSettle count={found.waiting} sitting={sittingId} />}
            <Back paper={found} />
          </>
        }
        right={
          <>
            {printed && <DropScans onTaken={(taken) => taken[0] && navigate(`/sittings/scans/${taken[0].id}`)} />}
            <Batches paper={found} />
            <PrintSheets paper={found} />
          </>
        }
      />
    </Page>
  );
}

const LOOKS: Partial<Record<Seat["state"], string>> = { "handed in": "text-teal" };

function words(seat: Seat): string {
  if (seat.places > 0) return t`◐ ${plural(seat.places, { one: "# place", other: "# places" })} to settle`;
  if (seat.state === "handed in") return seat.on_sheet ? t`● in` : t`● handed in on a device`;
  if (seat.on_sheet && seat.lost.length > 0) return t`○ page ${listed(seat.lost.map(String))} missing`;
  if (seat.state === "excused" || seat.state === "absent") return seat.state;
  return seat.printed ? t`○ not back yet` : t`no sheet printed`;
}

function Back({ paper }: { paper: Paper }) {
  const came = paper.seats.filter((seat) => seat.on_sheet).length;
  return (
    <Region name={t`What has come back`} remark={t`${came} of ${paper.seats.length}`}>
      <Table
        caption={t`Sheets by student`}
        heads={[{ label: t`Desk`, right: true }, { label: t`Student` }, { label: t`Sheet` }]}
      >
        {paper.seats.map((seat) => (
          <Row key={seat.seat}>
            <Cell right>
              <span className="text-graphite">{seat.desk}</span>
            </Cell>
            <Cell>
              {seat.on_sheet ? (
                <Link
                  to={`/sittings/${paper.sitting}/sheets/${seat.seat}`}
                  className="font-serif text-base underline decoration-hairline underline-offset-4 hover:decoration-ink"
                >
                  {seat.name}
                </Link>
              ) : (
                <span className="font-serif text-base">{seat.name}</span>
              )}
            </Cell>
            <Cell>
              <span className={seat.places > 0 ? "text-ochre" : (LOOKS[seat.state] ?? "text-graphite")}>
                {words(seat)}
              </span>
            </Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}

function Batches({ paper }: { paper: Paper }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [wear, setWear] = useState(0.5);
  const rehearse = useMutation({
    mutationFn: (batch: number) =>
      read(
        api.POST("/api/v1/paper/batches/{batch_id}/rehearsal", {
          params: { path: { batch_id: batch } },
          body: { wear },
        }),
      ),
    onSuccess: (scan) => {
      void changed(client, "scans", "paper");
      navigate(`/sittings/scans/${scan.id}`);
    },
  });
  if (paper.batches.length === 0) return null;
  return (
    <Region name={t`Printed`}>
      <Problem error={rehearse.error} />
      {paper.batches.map((batch) => (
        <Line
          key={batch.id}
          margin={whenOf(batch.made_at)}
          action={
            <span className="flex flex-wrap justify-end gap-2">
              {paper.may_rehearse && batch.whole_class && (
                <Button disabled={rehearse.isPending} onClick={() => rehearse.mutate(batch.id)}>
                  {rehearse.isPending ? t`Filling and scanning…` : t`Rehearse a scan`}
                </Button>
              )}
              <Button
                onClick={() => open(`/api/v1/paper/batches/${batch.id}/sheets.pdf`, "_blank", "noopener")}
              >{t`Open the PDF`}</Button>
            </span>
          }
        >
          {plural(batch.sheets, { one: "# sheet", other: "# sheets" })}
          {batch.spare > 0 && t` and ${batch.spare} spare`}, {plural(batch.pages, { one: "# page", other: "# pages" })}
          <p className="text-sm text-graphite">
            <Trans>
              batch {batch.code}, {batch.paper},{" "}
              <a href={`/api/v1/paper/batches/${batch.id}/map.json`} className="underline underline-offset-2">
                map
              </a>
            </Trans>
          </p>
        </Line>
      ))}
      {paper.may_rehearse && (
        <div className="mt-3 max-w-xs">
          <Field
            label={t`How rough the rehearsal is`}
            hint={t`In the demo, simulated students fill the sheets and a simulated copier scans them.`}
          >
            {(id) => (
              <Choice id={id} value={wear} onChange={(event) => setWear(Number(event.target.value))}>
                <option value={0}>{t`new copier, neat hands`}</option>
                <option value={0.5}>{t`an ordinary school copier`}</option>
                <option value={1}>{t`the worst there is`}</option>
              </Choice>
            )}
          </Field>
        </div>
      )}
    </Region>
  );
}

const PAPERS = {
  A4: { words: "A4", body: { paper: "A4", halves: false } },
  Letter: { words: t`Letter`, body: { paper: "Letter", halves: false } },
  "half A4": { words: t`A4, two sheets on a page to cut`, body: { paper: "A4", halves: true } },
  "half Letter": { words: t`Letter, two sheets on a page to cut`, body: { paper: "Letter", halves: true } },
} as const;

function PrintSheets({ paper }: { paper: Paper }) {
  const client = useQueryClient();
  const [who, setWho] = useState("class");
  const [size, setSize] = useState<keyof typeof PAPERS>("A4");
  const [spare, setSpare] = useState("2");
  const [date, setDate] = useState("");
  const [large, setLarge] = useState<18 | 24>(18);
  const print = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/paper/batches", {
          params: { path: { sitting_id: paper.sitting } },
          body: {
            ...PAPERS[size].body,
            spare: who === "class" ? Number(spare) || 0 : 0,
            date,
            large,
            seats: who === "class" ? null : [Number(who)],
          },
        }),
      ),
    onSuccess: (batch) => {
      void changed(client, "scans");
      open(`/api/v1/paper/batches/${batch.id}/sheets.pdf`, "_blank", "noopener");
    },
  });
  const { questions, can_print } = paper.elsewhere;
  if (!can_print)
    return (
      <Region name={t`Print sheets`}>
        <p className="py-3">{t`A sheet cannot take any question of this test. Print the booklet with room for answers.`}</p>
      </Region>
    );
  return (
    <Region name={paper.batches.length > 0 ? t`Print more` : t`Print sheets`}>
      <Problem error={print.error} />
      {questions.length > 0 && (
        <p className="py-2 text-ochre">{t`◐ Not on the sheet: ${plural(questions.length, { one: "question", other: "questions" })} ${questions.join(", ")}. Take those answers in the booklet.`}</p>
      )}
      {paper.unprintable.map((line) => (
        <p key={line.name} className="py-1 text-ochre">
          <Trans>
            ◐ “<bdi>{line.name}</bdi>” has letters that no typeface here can print:{" "}
            <bdi>{[...line.letters].join(" ")}</bdi>. They come out as boxes.
          </Trans>
        </p>
      ))}
      <form
        className="grid gap-x-6 pt-3 sm:grid-cols-2"
        onSubmit={(event) => {
          event.preventDefault();
          print.mutate();
        }}
      >
        <Field label={t`For`}>
          {(id) => (
            <Choice id={id} value={who} onChange={(event) => setWho(event.target.value)}>
              <option value="class">{t`the whole class`}</option>
              {paper.seats.map((seat) => (
                <option key={seat.seat} value={seat.seat}>
                  {seat.desk} {seat.name}
                </option>
              ))}
            </Choice>
          )}
        </Field>
        <Field label={t`Paper`}>
          {(id) => (
            <Choice id={id} value={size} onChange={(event) => setSize(event.target.value as keyof typeof PAPERS)}>
              {Object.entries(PAPERS).map(([value, { words }]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </Choice>
          )}
        </Field>
        {who === "class" && (
          <Field label={t`Spare sheets`} hint={t`Of each form, with a grid for the student's number.`}>
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={0}
                max={100}
                value={spare}
                onChange={(event) => setSpare(event.target.value)}
              />
            )}
          </Field>
        )}
        <Field label={t`Date on the sheet`} hint={t`If you like; it changes nothing.`}>
          {(id) => <TextInput id={id} value={date} maxLength={60} onChange={(event) => setDate(event.target.value)} />}
        </Field>
        <Field label={t`Large print`} hint={t`For those whose record asks for it.`}>
          {(id) => (
            <Choice id={id} value={large} onChange={(event) => setLarge(Number(event.target.value) as 18 | 24)}>
              <option value={18}>{t`18 point`}</option>
              <option value={24}>{t`24 point`}</option>
            </Choice>
          )}
        </Field>
        <div className="self-end pb-4">
          <Button variant="main" type="submit" disabled={print.isPending}>
            {print.isPending ? t`Drawing…` : t`Make the sheets`}
          </Button>
        </div>
      </form>
    </Region>
  );
}
