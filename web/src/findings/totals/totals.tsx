import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, read, type Schemas } from "../../api/client";
import type { TotalsBar } from "../../ui/charts/distribution-chart";
import { TotalsChart } from "../../ui/charts/totals-chart";
import { Choice, Problem } from "../../ui/field";
import { Hint } from "../../ui/hint";
import { useInAddress } from "../../ui/in-address";
import { Opening, Region, SplitPage } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { amount, figure, namesIn, percent } from "../../ui/words";
import { useScope } from "../use-analysis-filter";
import { WithTotal } from "./students-with-total";

type Page = Schemas["TotalsPage"];
const CUTS = [30, 40, 50, 60, 65, 70, 75, 80, 85, 90];

/** How dependable the totals are: their spread with cuts and error, reliability, what more questions would bring. */
export function TotalsView({ sittingId }: { sittingId: number }) {
  const { query, key } = useScope();
  const [cuts, setCuts] = useInAddress("cuts", "50,80");
  const [bar, setBar] = useState<TotalsBar | null>(null);
  const found = useQuery({
    queryKey: ["findings", sittingId, "totals", key, cuts],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/findings/totals", {
          params: { path: { sitting_id: sittingId }, query: { ...query, cuts } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  if (!page)
    return (
      <div className="px-6 py-4">
        <Problem error={found.error} />
      </div>
    );
  const setCut = (place: number, cut: number) =>
    setCuts(
      cuts
        .split(",")
        .map((one, at) => (at === place ? cut : one))
        .join(","),
    );
  const { figures } = page;
  return (
    <SplitPage
      split="even"
      names={{ left: t`The totals`, right: t`How dependable they are` }}
      left={
        <>
          <Opening>{page.opening}</Opening>
          <TotalsChart
            counts={page.distribution}
            max={figures.max}
            mean={figures.mean}
            cuts={figures.cuts}
            sem={figures.sem}
            onChoose={setBar}
          />
          <WithTotal
            bar={bar}
            students={Object.entries(page.totals).map(([seat, total]) => ({ name: page.names[seat] ?? "", total }))}
          />
          <Cuts page={page} onCut={setCut} />
          <Errors errors={figures.errors} />
        </>
      }
      right={
        <>
          <Reliability page={page} />
          <Subtests page={page} />
          <Without page={page} sittingId={sittingId} />
        </>
      }
    />
  );
}

function Cuts({ page, onCut }: { page: Page; onCut: (place: number, cut: number) => void }) {
  const { figures } = page;
  return (
    <Region name={t`Decisions at a cut`}>
      <Table
        caption={t`Decisions at a cut`}
        heads={[
          { label: t`Cut` },
          { label: t`Reach it`, right: true },
          { label: t`Below`, right: true },
          { label: t`Same again`, right: true },
          { label: t`Kappa`, right: true },
        ]}
      >
        {figures.cuts.map((cut, place) => {
          const value = Math.round(cut.share * 100);
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a cut is known by its place, and two may be the same
            <Row key={place}>
              <Cell>
                <Choice
                  low
                  className="w-auto!"
                  aria-label={t`Cut ${place + 1}`}
                  value={value}
                  onChange={(event) => onCut(place, Number(event.target.value))}
                >
                  {[...new Set([...CUTS, value])]
                    .sort((a, b) => a - b)
                    .map((one) => (
                      <option key={one} value={one}>
                        {t`${one}%: ${amount((one / 100) * figures.max)} marks`}
                      </option>
                    ))}
                </Choice>
              </Cell>
              <Cell right>{cut.reach}</Cell>
              <Cell right>{cut.below}</Cell>
              <Cell right>{percent(cut.agreement)}</Cell>
              <Cell right>{figure(cut.kappa)}</Cell>
            </Row>
          );
        })}
      </Table>
      <p className="mt-1 text-xs text-graphite">
        {figures.reasons.consistency ??
          t`Same again: share of the students who would fall on the same side of the cut in a like test; kappa is that beyond chance.`}
      </p>
      {figures.cuts.map((cut, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: as above
        <p key={place} className="mt-2 text-sm">
          <strong>{percent(cut.share)}</strong>{" "}
          {cut.near.length === 0
            ? t`Nobody stands within one standard error of it.`
            : t`Within one standard error of it: ${namesIn(cut.near.map((seat) => page.names[seat] ?? seat))}`}
        </p>
      ))}
    </Region>
  );
}

function Reliability({ page: { figures } }: { page: Page }) {
  const items = figures.without.length;
  const lines = [
    [
      t`Alpha`,
      t`${figure(figures.alpha)} (${figure(figures.alpha_low)} to ${figure(figures.alpha_high)})`,
      t`How well the questions agree on who is strong. The true value lies between the two in brackets.`,
    ],
    [t`Lambda-2`, figure(figures.lambda2), t`A sharper lower bound of reliability than alpha.`],
    [t`Split half`, figure(figures.split_half), t`Odd against even questions, stepped up to full length.`],
    [
      t`Alpha of the parts together`,
      figure(figures.stratified),
      t`Stratified alpha: fairer than alpha where a test is made of parts that differ, such as skills or sections.`,
    ],
    [
      t`Standard error of measurement`,
      amount(figures.sem, 2),
      t`Two thirds of students would come out within this many marks on a like test.`,
    ],
  ] as const;
  return (
    <Region
      name={t`Reliability`}
      remark={`${plural(items, { one: "# question", other: "# questions" })}, ${plural(figures.students, { one: "# student", other: "# students" })}`}
    >
      {figures.reasons.alpha && <p className="mt-2 text-ochre">◐ {figures.reasons.alpha}</p>}
      <dl className="pt-2 text-sm">
        {lines.map(([name, value, says]) => (
          <div key={name} className="flex justify-between border-b border-hairline py-1">
            <dt className="text-graphite">
              <Hint says={says}>{name}</Hint>
            </dt>
            <dd className="font-semibold">{value}</dd>
          </div>
        ))}
      </dl>
      {figures.alpha !== null && (
        <p className="mt-3 text-sm">
          {figures.lengths
            .filter((length) => length.items !== null)
            .map((length) =>
              (length.items ?? 0) <= items
                ? t`${figure(length.wanted)} is reached${(length.items ?? 0) < items ? t`, and would be with ${plural(length.items ?? 0, { one: "# question", other: "# questions" })} like these` : ""}.`
                : t`${figure(length.wanted)} would take ${plural(length.items ?? 0, { one: "# question", other: "# questions" })} like these.`,
            )
            .join(" ")}
        </p>
      )}
    </Region>
  );
}

function Subtests({ page }: { page: Page }) {
  const { subtests } = page.figures;
  if (subtests.length === 0) return null;
  return (
    <Region name={t`Subtests`}>
      <Table
        caption={t`Subtests`}
        heads={[
          { label: t`Skill or section` },
          { label: t`Questions`, right: true },
          { label: t`Earned`, right: true },
          { label: t`Alpha`, right: true },
          { label: "±", right: true },
        ]}
      >
        {subtests.map((subtest) => (
          <Row key={`${subtest.by} ${subtest.name}`}>
            <Cell>
              <span className="wrap-anywhere">{subtest.name}</span>
              {subtest.by === "section" && <span className="text-graphite"> {t`section`}</span>}
            </Cell>
            <Cell right>{subtest.items}</Cell>
            <Cell right>{percent(subtest.max ? subtest.mean / subtest.max : null)}</Cell>
            <Cell right>
              {figure(subtest.alpha)}
              {subtest.alpha !== null && (
                <span className="block text-xs text-graphite">
                  {t`${figure(subtest.alpha_low)} to ${figure(subtest.alpha_high)}`}
                </span>
              )}
            </Cell>
            <Cell right>{amount(subtest.sem)}</Cell>
          </Row>
        ))}
      </Table>
      <p className="mt-1 text-xs text-graphite">{t`A part of few questions is shakier than the whole: speak of its students together, not of one.`}</p>
    </Region>
  );
}

const WORTH = 0.01;

function Without({ page, sittingId }: { page: Page; sittingId: number }) {
  const lines = page.figures.without
    .filter((one) => one.change !== null)
    .sort((a, b) => (b.change ?? 0) - (a.change ?? 0));
  if (lines.length === 0) return null;
  return (
    <Region name={t`Alpha without each question`}>
      <Table
        caption={t`Alpha without each question`}
        heads={[{ label: t`Question` }, { label: t`Alpha without it`, right: true }, { label: t`Change`, right: true }]}
      >
        {lines.map((line) => (
          <Row key={line.id} selected={(line.change ?? 0) >= WORTH}>
            <Cell>
              <Link to={`/findings/${sittingId}?question=${page.numbers[line.id]}`}>
                {t`Question`} {page.labels[line.id]}
              </Link>
            </Cell>
            <Cell right>{figure(line.alpha)}</Cell>
            <Cell right>{(line.change ?? 0) > 0 ? `+${figure(line.change, 3)}` : figure(line.change, 3)}</Cell>
          </Row>
        ))}
      </Table>
      <p className="mt-1 text-xs text-graphite">{t`Those lit pull against the rest: without one of them the totals would be more dependable.`}</p>
    </Region>
  );
}

function Errors({ errors }: { errors: Schemas["ErrorAt"][] }) {
  if (errors.length === 0) return null;
  return (
    <Region name={t`Error of one total`}>
      <Table caption={t`Error of one total`} heads={[{ label: t`Total` }, { label: t`Standard error`, right: true }]}>
        {errors.map((error) => (
          <Row key={error.total}>
            <Cell>{amount(error.total, error.total % 1 ? 1 : 0)}</Cell>
            <Cell right>{amount(error.error, 2)}</Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}
