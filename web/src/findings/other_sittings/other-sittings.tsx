import { t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, read } from "../../api/client";
import { DifferencesChart } from "../../ui/charts/differences-chart";
import { Checkbox } from "../../ui/checkbox";
import { Choice, Problem } from "../../ui/field";
import { useInAddress } from "../../ui/in-address";
import { plain } from "../../ui/rich";
import { Empty, Opening, Region, SplitPage } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { dayOf, figure, percent } from "../../ui/words";

/** The same test in other classes and other years, its questions side by side. */
export function OtherSittings({ sittingId }: { sittingId: number }) {
  const [named, setAgainst] = useInAddress("against", "");
  const [oneKey, setOneKey] = useInAddress("key", "");
  const against = Number(named) || null;
  const found = useQuery({
    queryKey: ["findings", sittingId, "other-sittings", against, oneKey],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/findings/other-sittings", {
          params: {
            path: { sitting_id: sittingId },
            query: { ...(against && { against }), ...(oneKey && { one_key: true }) },
          },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  const other = page?.columns.find((column) => column.sitting === page.against);
  const [here] = page?.columns ?? [];
  if (!page || !here || !other)
    return (
      <div className="px-6 py-4">
        <Problem error={found.error} />
        {page && (
          <Empty title={t`Nothing stands beside it yet.`}>
            {t`${page.opening} Give the test to another class, or again next year, and both are here.`}
          </Empty>
        )}
      </div>
    );
  return (
    <SplitPage
      split="even"
      names={{ left: t`This sitting and another`, right: t`Side by side` }}
      left={
        <>
          <Choice
            low
            className="mb-3 w-auto!"
            aria-label={t`Put against`}
            value={other.sitting}
            onChange={(event) => setAgainst(event.target.value)}
          >
            {page.columns.slice(1).map((column) => (
              <option key={column.sitting} value={column.sitting}>
                {t`against ${column.class_name}, ${dayOf(column.held_on)} ${column.held_on.slice(0, 4)}`}
              </option>
            ))}
          </Choice>
          {page.rows.some((row) => row.other_key.includes(true) || row.by_this_key.includes(true)) && (
            <Checkbox
              label={t`score every sitting by the key of ${here.class_name}, for looking`}
              checked={oneKey !== ""}
              onChange={(on) => setOneKey(on ? "here" : "")}
            />
          )}
          <Opening>{page.opening}</Opening>
          <DifferencesChart
            rows={page.rows}
            first={`${here.class_name}, ${dayOf(here.held_on)}`}
            second={`${other.class_name}, ${dayOf(other.held_on)}`}
          />
          <p className="mt-1 text-xs text-graphite">{t`Percentage points of the marks earned, with 95% intervals; filled where chance alone would not do it.`}</p>
        </>
      }
      right={
        <Region name={t`Share of the marks earned`}>
          <div className="relative overflow-x-auto">
            <Table
              caption={t`The test in its sittings`}
              heads={[
                { label: t`Question` },
                ...page.columns.map((column) => ({
                  label: `${column.class_name}, ${dayOf(column.held_on)}`,
                  right: true,
                })),
              ]}
            >
              {page.rows.map((row) => (
                <Row key={row.ref} selected={row.difference !== null && ((row.low ?? 0) > 0 || (row.high ?? 0) < 0)}>
                  <Cell>
                    <span className="font-semibold">{row.label}</span>{" "}
                    <span className="line-clamp-1 font-serif">{plain(row.stem)}</span>
                  </Cell>
                  {page.columns.map((column, at) => (
                    <Cell key={column.sitting} right>
                      {percent(row.p[at])}
                      {row.flagged[at] && (
                        <span className="text-clay">
                          {" "}
                          ◆<span className="sr-only"> {t`to look at`}</span>
                        </span>
                      )}
                      {row.other_key[at] && <span className="block text-xs text-ochre">{t`another key`}</span>}
                      {row.by_this_key[at] && <span className="block text-xs text-graphite">{t`by the key here`}</span>}
                      {row.reworded[at] && <span className="block text-xs text-graphite">{t`read otherwise`}</span>}
                    </Cell>
                  ))}
                </Row>
              ))}
              <Row>
                <Cell>{t`All of it`}</Cell>
                {page.columns.map((column) => (
                  <Cell key={column.sitting} right>
                    <strong>{percent(column.mean)}</strong>
                  </Cell>
                ))}
              </Row>
              <Row>
                <Cell>{t`Alpha`}</Cell>
                {page.columns.map((column) => (
                  <Cell key={column.sitting} right>
                    {figure(column.alpha)}
                  </Cell>
                ))}
              </Row>
              <Row>
                <Cell>{t`Students`}</Cell>
                {page.columns.map((column) => (
                  <Cell key={column.sitting} right>
                    <Link to={`/findings/${column.sitting}`}>{column.students}</Link>
                  </Cell>
                ))}
              </Row>
            </Table>
          </div>
        </Region>
      }
    />
  );
}
