import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { answered, changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { NoPage } from "../ui/no-page";
import { Empty, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { amount, percent } from "../ui/words";
import { BandsForm } from "./bands-form";

type Placement = Schemas["PlacementPage"];

/** Who is recommended what, by the teacher's own table of bands. */
export function PlacementPage() {
  const sittingId = Number(useParams().sittingId);
  const params = { path: { sitting_id: sittingId } };
  const client = useQueryClient();
  const say = useSay();
  const found = useQuery({
    queryKey: ["placement", sittingId],
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/placement", { params })),
  });
  const keep = useMutation({
    mutationFn: (bands: Placement["bands"]) =>
      read(api.PUT("/api/v1/sittings/{sitting_id}/placement", { params, body: { bands } })),
    onSuccess: (page) => answered(client, ["placement", sittingId], page),
  });
  const group = useMutation({
    mutationFn: () => read(api.POST("/api/v1/sittings/{sitting_id}/placement/groups", { params })),
    onSuccess: ({ groups }) => {
      void changed(client, "classes");
      say(t`${plural(groups.length, { one: "# group", other: "# groups" })} of the class: ${groups.join(", ")}.`);
    },
  });
  const page = found.data;
  if (!page)
    return (
      <Page title={t`Placement`}>
        <NoPage error={found.error} />
      </Page>
    );
  const ready = page.bands.length > 0 && page.placed.length > 0;
  return (
    <Page
      title={t`Placement`}
      of={`${page.title} · ${page.class_name}`}
      facts={t`${plural(page.placed.length, { one: "# student", other: "# students" })} handed in`}
      actions={
        <>
          <ButtonLink to={`/sittings/${sittingId}`}>{t`The sitting`}</ButtonLink>
          <Button disabled={!ready || group.isPending} onClick={() => group.mutate()}>{t`Make groups of it`}</Button>
          <Button
            variant="main"
            disabled={!ready}
            onClick={() => location.assign(`/api/v1/sittings/${sittingId}/placement/letters.pdf`)}
          >{t`Letters, PDF`}</Button>
        </>
      }
    >
      <SplitPage
        names={{ left: t`Who is recommended what`, right: t`The table` }}
        left={
          <>
            <Problem error={group.error} />
            <Results page={page} />
          </>
        }
        right={
          <Region name={t`The table`}>
            <BandsForm key={JSON.stringify(page.bands)} page={page} onKeep={keep.mutate} />
            <Problem error={keep.error} />
          </Region>
        }
      />
    </Page>
  );
}

function Results({ page }: { page: Placement }) {
  if (page.bands.length === 0)
    return (
      <Empty
        title={t`No table yet.`}
      >{t`Say on the right from which score on you recommend what. It can be changed at any time, and the results follow.`}</Empty>
    );
  const waits = [
    page.waiting > 0 &&
      t`${plural(page.waiting, { one: "# question", other: "# questions" })} for a person to mark: not counted here`,
    page.not_in > 0 && t`${plural(page.not_in, { one: "# student", other: "# students" })} not handed in`,
  ].filter(Boolean);
  const best = page.bands.map((band, at) => ({ ...band, at })).reverse();
  return (
    <>
      {waits.length > 0 && <p className="mb-4 text-ochre">◐ {waits.join("; ")}.</p>}
      {best.map((band) => {
        const here = page.placed.filter((one) => one.band === band.at);
        return (
          <Region
            key={band.at}
            name={<span className="font-serif text-lg tracking-normal text-ink normal-case">{band.recommends}</span>}
            remark={t`from ${amount(band.least, 0)}% · ${plural(here.length, { one: "# student", other: "# students" })}`}
          >
            {here.length > 0 && (
              <Table
                caption={band.recommends}
                heads={[
                  { label: t`Desk`, right: true },
                  { label: t`Student` },
                  { label: t`Marks of ${amount(page.of, page.of % 1 ? 1 : 0)}`, right: true },
                  { label: t`Share`, right: true },
                ]}
              >
                {here.map((one) => (
                  <Row key={one.seat}>
                    <Cell right>
                      <span className="text-graphite">{one.desk}</span>
                    </Cell>
                    <Cell>
                      <span className="font-serif text-base">{one.name}</span>
                    </Cell>
                    <Cell right>{amount(one.total)}</Cell>
                    <Cell right>{percent(one.total / page.of)}</Cell>
                  </Row>
                ))}
              </Table>
            )}
          </Region>
        );
      })}
    </>
  );
}
