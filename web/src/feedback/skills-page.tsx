import { t } from "@lingui/core/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { BandSign } from "../ui/band-sign";
import { Button, ButtonLink } from "../ui/button";
import { BandsBar } from "../ui/charts/bands-bar";
import { CompactSelect } from "../ui/compact-select";
import { Problem } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { KeptViews } from "../ui/kept-views";
import { NotYet } from "../ui/not-yet";
import { SaveView } from "../ui/save-view";
import { Opening, Page, SplitPage } from "../ui/split-page";
import { Tools } from "../ui/tools";
import { byName, percent } from "../ui/words";
import { LineUp } from "./against-line";
import { Feedback } from "./feedback";
import { SkillStanding } from "./skill-standing";

type BySkill = Schemas["ClassBySkill"];
const SECURE = [60, 65, 70, 75, 80, 85, 90, 95];
const NEARLY = [30, 40, 45, 50, 55, 60, 65, 70];
const ORDERS = {
  desk: t`by desk`,
  skill: t`least in this skill first`,
  whole: t`lowest total first`,
  name: t`by name`,
};

/** A class by skill: what it lacks and what it can, who stands where, groups and feedback sheets from it. */
export function SkillsPage() {
  const sittingId = Number(useParams().sittingId);
  const [secure, setSecure] = useInAddress("secure", "80");
  const [nearly, setNearly] = useInAddress("nearly", "50");
  const cuts = { secure: Number(secure) || 80, nearly: Number(nearly) || 50 };
  const [as, setAs] = useInAddress("as", "table");
  const against = as === "line";
  const [order, setOrder] = useInAddress("order", "desk");
  const [chosen, setChosen] = useState(0);
  const [writing, setWriting] = useState(false);
  const part = useRef<HTMLDivElement>(null);
  const found = useQuery({
    queryKey: ["results", sittingId, "skills", cuts],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/results/skills", {
          params: { path: { sitting_id: sittingId }, query: cuts },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const page = found.data;
  const skill = page?.skills[chosen] ?? page?.skills[0];
  const tools = (
    <Tools>
      {!against && <CompactSelect name={t`Order`} value={order} of={ORDERS} onChange={setOrder} />}
      <span className="whitespace-nowrap">
        {t`● from`}{" "}
        <CompactSelect
          name={t`Secure from`}
          value={String(cuts.secure)}
          of={cutsIn(SECURE, cuts.secure)}
          onChange={setSecure}
        />
      </span>
      <span className="whitespace-nowrap">
        {t`◐ from`}{" "}
        <CompactSelect
          name={t`Nearly from`}
          value={String(cuts.nearly)}
          of={cutsIn(NEARLY, cuts.nearly)}
          onChange={setNearly}
        />
      </span>
      <KeptViews />
    </Tools>
  );
  return (
    <Page
      title={t`By skill`}
      of={page && `${page.title} · ${page.class_name}`}
      facts={page && t`● from ${cuts.secure}%, ◐ from ${cuts.nearly}% of its marks`}
      actions={
        <>
          <ButtonLink to={`/results/${sittingId}`}>{t`Results`}</ButtonLink>
          <ButtonLink to={`/findings/${sittingId}`}>{t`Findings`}</ButtonLink>
          <Button aria-pressed={against} onClick={() => setAs(against ? "table" : "line")}>
            {against ? t`The table` : t`Against a line`}
          </Button>
          {page && (
            <SaveView
              name={t`By skill`}
              of={part}
              file={(form) =>
                `/api/v1/sittings/${sittingId}/skills.${form}?${new URLSearchParams({
                  rows: inOrder(page, order, chosen)
                    .students.map((student) => student.seat)
                    .join(),
                  secure: String(cuts.secure),
                  nearly: String(cuts.nearly),
                })}`
              }
            />
          )}
          <Button variant="main" disabled={!page} onClick={() => setWriting(true)}>{t`Feedback sheets…`}</Button>
        </>
      }
    >
      {page && skill ? (
        <SplitPage
          names={{ left: t`Students by skill`, right: skill.name }}
          left={
            <div ref={part}>
              <Problem error={found.error} />
              {!against && <Opening>{page.opening}</Opening>}
              {tools}
              {against ? (
                <LineUp page={page} />
              ) : (
                <Students
                  page={inOrder(page, order, chosen)}
                  chosen={page.skills.indexOf(skill)}
                  onChoose={setChosen}
                />
              )}
            </div>
          }
          right={
            <SkillStanding
              key={skill.name}
              sittingId={sittingId}
              page={page}
              place={page.skills.indexOf(skill)}
              cuts={cuts}
            />
          }
        />
      ) : (
        <div className="px-6 py-4">
          {found.error && tools}
          <NotYet
            error={found.error}
            title={t`There is nothing by skill yet.`}
            action={<ButtonLink to={`/sittings/${sittingId}`} variant="main">{t`The sitting`}</ButtonLink>}
          />
        </div>
      )}
      {writing && <Feedback sittingId={sittingId} onClose={() => setWriting(false)} />}
    </Page>
  );
}

/** The usual cuts, and the one that stands; numbers as keys come in their order. */
const cutsIn = (usual: number[], now: number) =>
  Object.fromEntries([...usual, now].map((one) => [String(one), `${one}%`]));

/** Its students in another order; one who chose no question of a skill is behind those who did. */
function inOrder(page: BySkill, order: string, skill: number): BySkill {
  const by = (one: BySkill["students"][number]) => (order === "skill" ? one.cells[skill]?.share : one.whole) ?? 2;
  const students = [...page.students].sort((a, b) =>
    order === "name" ? byName(a.name, b.name) : order === "desk" ? a.desk - b.desk : by(a) - by(b),
  );
  return { ...page, students };
}

type StudentsProps = { page: BySkill; chosen: number; onChoose: (place: number) => void };

function Students({ page, chosen, onChoose }: StudentsProps) {
  return (
    <div className="relative overflow-x-auto">
      <table className="w-full border-collapse text-sm">
        <caption className="sr-only">{t`Students by skill, the weakest skill first`}</caption>
        <thead>
          <tr>
            <th
              scope="col"
              className="sticky start-0 z-10 bg-page py-1 pe-3 text-start text-xs text-graphite"
            >{t`Student`}</th>
            {page.skills.map((skill, at) => (
              <th
                key={skill.name}
                scope="col"
                className={`min-w-24 px-1.5 py-1 align-bottom font-semibold ${at === chosen ? "bg-iris-wash" : ""}`}
              >
                <button
                  type="button"
                  aria-pressed={at === chosen}
                  className="w-full text-start text-xs leading-tight wrap-anywhere hover:underline"
                  onClick={() => onChoose(at)}
                >
                  {skill.name}
                </button>
              </th>
            ))}
          </tr>
          <tr className="border-b border-edge">
            <th
              scope="row"
              className="sticky start-0 z-10 bg-page py-1 pe-3 text-start text-xs font-normal text-graphite"
            >{t`The class`}</th>
            {page.skills.map((skill, at) => (
              <td key={skill.name} className={`px-1.5 py-1 ${at === chosen ? "bg-iris-wash" : ""}`}>
                <span className="font-semibold">{percent(skill.share)}</span>
                {skill.enough ? (
                  <BandsBar secure={skill.secure} nearly={skill.nearly} notYet={skill.not_yet} />
                ) : (
                  <span className="block text-xs text-graphite">{t`too few marks`}</span>
                )}
              </td>
            ))}
          </tr>
        </thead>
        <tbody>
          {page.students.map((student) => (
            <tr key={student.seat} className="border-b border-hairline">
              <th
                scope="row"
                className="sticky start-0 z-10 bg-page py-1 pe-3 text-start font-serif font-normal whitespace-nowrap"
              >
                {student.name}
              </th>
              {student.cells.map((cell, at) => (
                <td
                  key={page.skills[at]?.name}
                  className={`px-1.5 py-1 whitespace-nowrap ${at === chosen ? "bg-iris-wash" : ""}`}
                >
                  <BandSign band={cell.band} />
                  <span className="ms-1 text-graphite">
                    {cell.share === null ? t`not chosen` : t`${cell.earned} of ${page.skills[at]?.marks ?? 0}`}
                  </span>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
