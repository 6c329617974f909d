import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { Link, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { ButtonLink } from "../ui/button";
import { MeansChart } from "../ui/charts/means-chart";
import { useInAddress } from "../ui/in-address";
import { Interval, points } from "../ui/interval";
import { NotYet } from "../ui/not-yet";
import { SaveView } from "../ui/save-view";
import { Opening, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { percent } from "../ui/words";
import { marks } from "./results-view";

type Grouped = Schemas["ByGroup"];
type OneGroup = Grouped["groups"][number];

/** What each group of the class earned, beside the others; on the right who is in it, and its skills. */
export function GroupsPage() {
  const sittingId = Number(useParams().sittingId);
  const [named, setChosen] = useInAddress("group", "");
  const part = useRef<HTMLDivElement>(null);
  const found = useQuery({
    queryKey: ["results", sittingId, "groups"],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/results/groups", { params: { path: { sitting_id: sittingId } } })),
  });
  const page = found.data;
  const chosen = page?.groups.find((group) => group.key === named) ?? page?.groups[0];
  return (
    <Page
      title={t`By group`}
      of={page && `${page.title} · ${page.class_name}`}
      actions={
        <>
          <ButtonLink to={`/results/${sittingId}`}>{t`Results`}</ButtonLink>
          <ButtonLink to={`/results/${sittingId}/skills`}>{t`By skill`}</ButtonLink>
          <ButtonLink to={`/findings/${sittingId}?view=groups`}>{t`Question by question`}</ButtonLink>
          <SaveView
            name={t`By group`}
            of={part}
            charted
            file={(form) => `/api/v1/sittings/${sittingId}/results/groups.${form}`}
          />
        </>
      }
    >
      {page && chosen ? (
        <div ref={part} className="flex min-h-0 flex-1 flex-col">
          <SplitPage
            split="even"
            names={{ left: t`Groups`, right: chosen.name }}
            left={<Groups page={page} chosen={chosen.key} onChoose={setChosen} />}
            right={<OfGroup page={page} group={chosen} sittingId={sittingId} />}
          />
        </div>
      ) : (
        <div className="px-6 py-4">
          <NotYet
            error={found.error}
            title={t`There is nothing by group yet.`}
            action={<ButtonLink to={`/results/${sittingId}`} variant="main">{t`Results`}</ButtonLink>}
          >{t`Groups are made of the totals, of a skill, of a shared idea, or by hand in the class.`}</NotYet>
        </div>
      )}
    </Page>
  );
}

type GroupsProps = { page: Grouped; chosen: string; onChoose: (key: string) => void };

function Groups({ page, chosen, onChoose }: GroupsProps) {
  return (
    <>
      <Opening>{page.opening}</Opening>
      <MeansChart
        rows={page.groups.map((group) => ({ ...group, sure: group.sure && !group.few, count: group.students.length }))}
        whole={page.mean}
        wholeName={t`the class`}
        chosen={chosen}
        onChoose={onChoose}
      />
      <Region name={t`Share of the marks`} remark={t`with 95% intervals`}>
        <Table
          caption={t`Share of the marks by group`}
          heads={[
            { label: t`Group` },
            { label: t`Students`, right: true },
            { label: t`Mean`, right: true },
            { label: t`The others`, right: true },
            { label: t`Difference`, right: true },
          ]}
        >
          {page.groups.map((group) => (
            <Row key={group.key} selected={group.key === chosen}>
              <Cell>
                <button
                  type="button"
                  aria-current={group.key === chosen ? "true" : undefined}
                  className="text-start font-serif wrap-anywhere hover:underline"
                  onClick={() => onChoose(group.key)}
                >
                  {group.name}
                </button>
              </Cell>
              <Cell right>{group.students.length}</Cell>
              <Cell right>
                <strong>{percent(group.mean)}</strong>
                <Interval low={group.low} high={group.high} />
              </Cell>
              <Cell right>{percent(group.others)}</Cell>
              <Cell right>
                <span className={group.sure && !group.few ? "font-semibold text-plum" : ""}>
                  {points(group.difference)}
                </span>
                <Interval low={group.difference_low} high={group.difference_high} in={points} />
              </Cell>
            </Row>
          ))}
          <Row>
            <Cell>{t`The class`}</Cell>
            <Cell right>{page.students.length}</Cell>
            <Cell right>
              <strong>{percent(page.mean)}</strong>
              <Interval low={page.low} high={page.high} />
            </Cell>
            <Cell />
            <Cell />
          </Row>
        </Table>
      </Region>
      <p className="mt-2 text-xs text-graphite">{t`Totals as they stand. A difference is in percentage points, to everybody who is not in the group; it is filled and bold where chance alone would hardly bring it.`}</p>
    </>
  );
}

function OfGroup({ page, group, sittingId }: { page: Grouped; group: OneGroup; sittingId: number }) {
  const own = new Set(group.students);
  return (
    <>
      <Region name={group.name} remark={group.made_from}>
        <Table
          caption={t`Students of ${group.name}`}
          heads={[{ label: t`Student` }, { label: t`Total`, right: true }, { label: t`Share`, right: true }]}
        >
          {page.students
            .filter((student) => own.has(student.student))
            .map((one) => (
              <Row key={one.student}>
                <Cell>
                  <Link
                    to={`/records/${page.class_id}/students/${one.student}`}
                    className="font-serif text-base hover:underline"
                  >
                    {one.name}
                  </Link>
                </Cell>
                <Cell right>{t`${marks(one.total)} of ${marks(one.of)}`}</Cell>
                <Cell right>{percent(one.share)}</Cell>
              </Row>
            ))}
        </Table>
        {group.without.length > 0 && (
          <p className="py-2 text-sm text-graphite">{t`Without a total: ${group.without.join(", ")}`}</p>
        )}
      </Region>
      {page.skills.length > 0 && (
        <Region name={t`Its skills`}>
          <Table
            caption={t`Skills of ${group.name}`}
            heads={[{ label: t`Skill` }, { label: group.name, right: true }, { label: t`The class`, right: true }]}
          >
            {page.skills.map((skill, at) => (
              <Row key={skill}>
                <Cell>
                  <Link to={`/results/${sittingId}/skills`} className="wrap-anywhere hover:underline">
                    {skill}
                  </Link>
                </Cell>
                <Cell right>
                  <strong>{percent(group.skills[at])}</strong>
                </Cell>
                <Cell right>{percent(page.of_class[at])}</Cell>
              </Row>
            ))}
          </Table>
        </Region>
      )}
    </>
  );
}
