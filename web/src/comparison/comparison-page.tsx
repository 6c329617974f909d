import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { NoPage } from "../ui/no-page";
import { NumberInput } from "../ui/number-input";
import { ProgressBar } from "../ui/progress-bar";
import { Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { amount, durationOf, figure, listed } from "../ui/words";
import { PieceWork } from "./piece-work";
import { ScaleLine } from "./scale-line";

type Comparison = Schemas["ComparisonPage"];
const EVERY = 15_000;

/** The scale that comparisons make: the order of the pieces, how sure it is, who judged otherwise, and the marks. */
export function ComparisonPage() {
  const id = Number(useParams().comparisonId);
  const params = { path: { comparison_id: id } };
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["comparison", id],
    queryFn: () => read(api.GET("/api/v1/comparisons/{comparison_id}", { params })),
    refetchInterval: EVERY,
  });
  const change = useMutation({
    mutationFn: (make: () => Promise<unknown>) => make(),
    onSettled: () => changed(client, "comparison"),
  });
  const [ending, setEnding] = useState(false);
  const page = found.data;
  if (!page)
    return (
      <Page title={t`Comparing`}>
        <NoPage error={found.error} />
      </Page>
    );
  const judges = page.judges.filter((one) => !one.left);
  return (
    <Page
      title={page.question}
      facts={[page.title, t`question ${page.number}`, page.criterion, listed(page.classes)].filter(Boolean).join(" · ")}
      actions={
        <>
          <span className="text-sm text-graphite">{t`${page.done} of ${page.wanted} pairs`}</span>
          <span className="hidden w-32 xl:block">
            <ProgressBar done={Math.min(page.done, page.wanted)} of={page.wanted} label={t`pairs compared`} />
          </span>
          {!page.ended_at && <Button onClick={() => setEnding(true)}>{t`End it…`}</Button>}
          <ButtonLink to="/marking">{t`What else waits`}</ButtonLink>
        </>
      }
    >
      <SplitPage
        names={{ left: t`The scale`, right: t`Judges and marks` }}
        left={
          <>
            <Problem error={found.error ?? change.error} />
            <p className="mb-3 font-serif text-lg leading-snug">{opening(page)}</p>
            <Scale page={page} onChange={change.mutate} />
          </>
        }
        right={
          <>
            <Region name={t`Judges`}>
              <Table
                caption={t`Judges`}
                heads={[{ label: t`Name` }, { label: t`Pairs`, right: true }, { label: t`Time for one`, right: true }]}
              >
                {page.judges.map((one) => (
                  <Row key={one.teacher}>
                    <Cell>
                      <bdi className="wrap-anywhere">{one.name}</bdi>
                      {one.left && <span className="text-graphite">{t` · no longer in it`}</span>}
                      {one.differs && (
                        <span className="block text-sm text-ochre">{t`judges otherwise than all together`}</span>
                      )}
                    </Cell>
                    <Cell right>{one.comparisons}</Cell>
                    <Cell right>{one.seconds === null ? "–" : durationOf(one.seconds)}</Cell>
                  </Row>
                ))}
              </Table>
              {!page.ended_at && (
                <Judges
                  key={judges.map((one) => one.teacher).join()}
                  page={page}
                  onChange={(body) =>
                    change.mutate(() => read(api.PUT("/api/v1/comparisons/{comparison_id}", { params, body })))
                  }
                />
              )}
            </Region>
            <Marks page={page} />
          </>
        }
      />
      <Dialog
        open={ending}
        onClose={() => setEnding(false)}
        title={t`End the comparison?`}
        says={t`Judges get no more pairs. The scale stays, and the names are shown beside it.`}
      >
        <Button
          variant="main"
          onClick={() => {
            setEnding(false);
            change.mutate(() => read(api.DELETE("/api/v1/comparisons/{comparison_id}", { params })));
          }}
        >{t`End it`}</Button>
      </Dialog>
    </Page>
  );
}

function opening(page: Comparison): string {
  if (page.done === 0) return t`Nothing has been compared yet.`;
  const sure = page.separation === null ? "" : t` Its reliability is ${figure(page.separation)}.`;
  const left = page.wanted - page.done;
  const more =
    left > 0
      ? t` ${plural(left, { one: "# pair is left.", other: "# pairs are left." })}`
      : t` All pairs are compared.`;
  return t`${plural(page.done, { one: "# comparison puts", other: "# comparisons put" })} the answers in this order.${sure}${more}`;
}

type Change = (make: () => Promise<unknown>) => void;

function Scale({ page, onChange }: { page: Comparison; onChange: Change }) {
  const measured = page.pieces.flatMap((one) =>
    one.measure === null || one.error === null ? [] : [one.measure - 2 * one.error, one.measure + 2 * one.error],
  );
  const [shown, setShown] = useState<number | null>(null);
  const range = { low: Math.min(0, ...measured), high: Math.max(0, ...measured) };
  return (
    <>
      {shown !== null && <Shown comparisonId={page.id} number={shown} onClose={() => setShown(null)} />}
      <Table
        caption={t`The answers, the best first`}
        heads={[
          { label: t`Answer` },
          { label: t`Place on the scale, with its 95% interval` },
          { label: t`Pairs`, right: true },
          { label: t`Known mark`, right: true },
          { label: t`Mark`, right: true },
        ]}
      >
        {page.pieces.map((one) => (
          <Row key={one.number}>
            <Cell>
              <Button variant="quiet" onClick={() => setShown(one.number)}>
                <bdi>{one.name || t`No. ${one.number}`}</bdi>
              </Button>
              {one.divides && <span className="block text-xs text-ochre">{t`judges disagree about it`}</span>}
            </Cell>
            <Cell>
              {one.measure === null || one.error === null ? (
                <span className="text-graphite">{t`not compared yet`}</span>
              ) : (
                <ScaleLine measure={one.measure} error={one.error} {...range} />
              )}
            </Cell>
            <Cell right>{one.comparisons}</Cell>
            <Cell right>
              <NumberInput
                label={t`Known mark of ${one.name || t`no. ${one.number}`}`}
                className="w-16! py-0.5!"
                min={0}
                max={page.most}
                step={0.5}
                value={one.points}
                onChange={(points) =>
                  points !== one.points &&
                  onChange(() =>
                    read(
                      api.PUT("/api/v1/comparisons/{comparison_id}/pieces/{number}/anchor", {
                        params: { path: { comparison_id: page.id, number: one.number } },
                        body: { points },
                      }),
                    ),
                  )
                }
              />
            </Cell>
            <Cell right>{one.mark === null ? "–" : amount(one.mark)}</Cell>
          </Row>
        ))}
      </Table>
    </>
  );
}

/** One of the answers, to say which mark it deserves. */
function Shown({ comparisonId, number, onClose }: { comparisonId: number; number: number; onClose: () => void }) {
  const piece = useQuery({
    queryKey: ["comparison", "piece", comparisonId, number],
    queryFn: () =>
      read(
        api.GET("/api/v1/comparisons/{comparison_id}/pieces/{number}", {
          params: { path: { comparison_id: comparisonId, number } },
        }),
      ),
  });
  return (
    <Dialog open wide onClose={onClose} title={t`No. ${number}`}>
      <Problem error={piece.error} />
      {piece.data && <PieceWork comparisonId={comparisonId} piece={piece.data} />}
    </Dialog>
  );
}

type JudgesProps = { page: Comparison; onChange: (body: Schemas["ComparisonChange"]) => void };

function Judges({ page, onChange }: JudgesProps) {
  const [judges, setJudges] = useState(page.judges.filter((one) => !one.left).map((one) => one.teacher));
  const [each, setEach] = useState(page.each);
  return (
    <form
      className="mt-3"
      onSubmit={(event) => {
        event.preventDefault();
        onChange({ judges, each });
      }}
    >
      <fieldset>
        <legend className="sr-only">{t`Who judges`}</legend>
        {page.colleagues.map((one) => (
          <Checkbox
            key={one.id}
            label={<bdi>{one.name}</bdi>}
            checked={judges.includes(one.id)}
            onChange={(taken) => setJudges(taken ? [...judges, one.id] : judges.filter((other) => other !== one.id))}
          />
        ))}
      </fieldset>
      <Field label={t`How often each answer is compared`}>
        {(id) => (
          <TextInput
            id={id}
            type="number"
            required
            min={2}
            max={60}
            value={each}
            onChange={(event) => setEach(event.target.valueAsNumber)}
          />
        )}
      </Field>
      <Button type="submit" className="mt-2" disabled={judges.length === 0}>{t`Change it`}</Button>
    </form>
  );
}

/** Marks from the scale: what they would do first. */
function Marks({ page }: { page: Comparison }) {
  const client = useQueryClient();
  const say = useSay();
  const [asking, setAsking] = useState(false);
  const marks = (really: boolean) =>
    read(
      api.POST("/api/v1/comparisons/{comparison_id}/marks", {
        params: { path: { comparison_id: page.id } },
        body: { really },
      }),
    );
  const would = useQuery({
    queryKey: ["comparison", "marks", page.id],
    queryFn: () => marks(false),
    enabled: asking,
    staleTime: 0,
  });
  const give = useMutation({
    mutationFn: () => marks(true),
    onSuccess: async (done) => {
      setAsking(false);
      say(plural(done.given, { one: "# answer has its mark.", other: "# answers have their marks." }));
      await changed(client, "marks");
    },
  });
  return (
    <Region name={t`Marks`}>
      <p className="my-2 text-sm text-graphite">
        {page.why_no_marks ||
          t`The marks lie on a straight line through those you know, in steps of half a point, up to ${amount(page.most, page.most % 1 ? 1 : 0)}.`}
      </p>
      {!page.why_no_marks && <Button onClick={() => setAsking(true)}>{t`Give these marks…`}</Button>}
      <Dialog open={asking} onClose={() => setAsking(false)} title={t`Give the marks of the scale?`}>
        <Problem error={would.error ?? give.error} />
        {would.data && (
          <p className="mb-4">
            {plural(would.data.given, { one: "# answer gets its mark.", other: "# answers get their marks." })}{" "}
            {would.data.stay > 0 &&
              plural(would.data.stay, {
                one: "# has a mark already, which stays.",
                other: "# have a mark already, which stays.",
              })}{" "}
            {would.data.drafts && t`They are begun only, since the other criteria of the rubric are yours to mark.`}
          </p>
        )}
        <Button
          variant="main"
          disabled={!would.data || would.data.given === 0 || give.isPending}
          onClick={() => give.mutate()}
        >{t`Give them`}</Button>
      </Dialog>
    </Region>
  );
}
