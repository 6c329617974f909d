import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { type Time, timeOfSitting, together } from "../delivery/by-time";
import { SittingTitle } from "../delivery/sitting-title";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Line, Page, Region, SplitPage } from "../ui/split-page";
import { longDayOf, questionName, whenOf } from "../ui/words";
import { FirstPath, FirstPathBeside } from "./first-path";

const AHEAD: [Time, string][] = [
  ["missed", t`Planned for a day that is over`],
  ["today", t`Today`],
  ["week", t`Within a week`],
  ["later", t`Later, or when you say`],
];

/** What is open, what waits, what is new. */
export function Desk() {
  const desk = useQuery({
    queryKey: ["desk"],
    queryFn: () => read(api.GET("/api/v1/desk")),
    refetchInterval: 30_000,
  });
  return (
    <Page
      title={t({ message: "Desk", context: "the page one begins on" })}
      actions={
        <>
          <ButtonLink to="/tests?new=1">{t`New test`}</ButtonLink>
          <ButtonLink to="/sittings?new=1">{t`New sitting`}</ButtonLink>
        </>
      }
    >
      {desk.isError && <Problem error={desk.error} />}
      {desk.data &&
        (desk.data.empty ? (
          <FirstPath path={desk.data.first_path} />
        ) : (
          <SplitPage
            names={{ left: t`Today`, right: desk.data.first_path ? t`The way to a finding` : t`New findings` }}
            left={<Today desk={desk.data} />}
            right={
              desk.data.first_path ? <FirstPathBeside path={desk.data.first_path} /> : <News news={desk.data.news} />
            }
          />
        ))}
    </Page>
  );
}

function Today({ desk }: { desk: Schemas["Desk"] }) {
  // Marks of a test given elsewhere are work of the teacher: nobody sits there.
  const begun = desk.open.filter((sitting) => !sitting.marks_only);
  const open = begun.filter((sitting) => sitting.state === "open");
  const paused = begun.filter((sitting) => sitting.state === "paused");
  const toEnter = desk.open.filter((sitting) => sitting.marks_only);
  const working = open.reduce((sum, sitting) => sum + sitting.working, 0);
  const now = new Date();
  const ahead = together(desk.waiting, (sitting) => timeOfSitting(sitting, now));
  // One whose day is over is not what comes next.
  const next = desk.waiting.find((sitting) => timeOfSitting(sitting, now) !== "missed");
  return (
    <>
      <h2 className="font-serif text-3xl font-semibold">{longDayOf(new Date())}</h2>
      <p className="mb-6 text-graphite">
        {open.length > 0
          ? t`${plural(open.length, { one: "# sitting", other: "# sittings" })} open, ${plural(working, { one: "# student", other: "# students" })} at work.`
          : paused.length > 0
            ? t`Nothing is open; ${plural(paused.length, { one: "# sitting is", other: "# sittings are" })} paused.`
            : next?.planned_for
              ? t`Next: ${next.class_name}, ${whenOf(next.planned_for)}.`
              : t`Nothing is open.`}
      </p>
      {open.length > 0 && (
        <Region name={t`Open now`}>
          {open.map((sitting) => (
            <SittingDeskLine key={sitting.id} sitting={sitting} margin={sitting.code} action={t`Watch`} main>
              <span className="text-teal">
                {t`${sitting.handed_in} of ${sitting.seats} handed in, ${sitting.working} working, ${sitting.expected} not here yet`}
              </span>
            </SittingDeskLine>
          ))}
        </Region>
      )}
      {paused.length > 0 && (
        <Region name={t`Paused`}>
          {paused.map((sitting) => (
            <SittingDeskLine key={sitting.id} sitting={sitting} margin={sitting.code} action={t`Go to it`}>
              {t`${sitting.handed_in} of ${sitting.seats} handed in, ${sitting.working} in the middle of it`}
            </SittingDeskLine>
          ))}
        </Region>
      )}
      {desk.waiting.length === 0 && (
        <Region name={t`Coming up`}>
          <p className="py-3 text-graphite">{t`No sitting is planned.`}</p>
        </Region>
      )}
      {AHEAD.map(([time, name]) => {
        const some = ahead.get(time);
        return (
          some && (
            <Region key={time} name={name}>
              {some.map((sitting) => (
                <SittingDeskLine
                  key={sitting.id}
                  sitting={sitting}
                  margin={sitting.planned_for ? whenOf(sitting.planned_for) : t`when you say`}
                  action={sitting.missing.length ? t`Complete it` : t`Go to it`}
                >
                  {sitting.missing.length ? (
                    <span className="text-clay">◆ {sitting.missing.join(" ")}</span>
                  ) : (
                    t`ready: ${plural(sitting.seats, { one: "# seat", other: "# seats" })}`
                  )}
                </SittingDeskLine>
              ))}
            </Region>
          )
        );
      })}
      {(toEnter.length > 0 ||
        desk.shared.length > 0 ||
        desk.to_mark.length > 0 ||
        desk.to_settle.length > 0 ||
        desk.absent.length > 0 ||
        desk.unfinished.length > 0) && (
        <Region
          name={t`Waiting for you`}
          remark={<Link to="/marking" className="text-iris underline">{t`All there is to mark`}</Link>}
        >
          {toEnter.map((sitting) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={plural(sitting.working + sitting.expected, { one: "# row", other: "# rows" })}
              action={t`Enter marks`}
            >
              {t`not full yet, of ${sitting.seats}`}
            </SittingDeskLine>
          ))}
          {desk.shared.map((one) => (
            <Line
              key={`${one.kind} ${one.id}`}
              margin={
                one.kind === "pile"
                  ? plural(one.left, { one: "# answer", other: "# answers" })
                  : plural(one.left, { one: "# pair", other: "# pairs" })
              }
              action={
                <ButtonLink to={one.kind === "pile" ? `/piles/${one.id}/mark` : `/comparisons/${one.id}/judge`}>
                  {one.kind === "pile" ? t`Mark them` : t`Compare`}
                </ButtonLink>
              }
            >
              <span className="font-serif text-lg font-semibold">{one.title}</span>
              <p className="text-sm text-graphite">
                {one.kind === "pile" ? t`to mark in a pile that ${one.head} shared` : t`to compare, led by ${one.head}`}
              </p>
            </Line>
          ))}
          {desk.to_mark.map(({ sitting, answers }) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={plural(answers, { one: "# answer", other: "# answers" })}
              action={t`Mark them`}
              to={`/marking/${sitting.id}`}
            >
              <span className="text-plum">{t`to mark; the findings leave them out until then`}</span>
            </SittingDeskLine>
          ))}
          {desk.to_settle.map(({ sitting, places }) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={plural(places, { one: "# place", other: "# places" })}
              action={t`Settle them`}
              to={`/sittings/queries?sitting=${sitting.id}`}
            >
              <span className="text-ochre">{t`◐ on scanned sheets, in doubt`}</span>
            </SittingDeskLine>
          ))}
          {desk.absent.map((sitting) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={plural(sitting.seats - sitting.handed_in, { one: "# student", other: "# students" })}
              action={t`See who`}
            >{t`have not sat it`}</SittingDeskLine>
          ))}
          {desk.unfinished.map((test) => (
            <Line
              key={test.id}
              margin={t`not frozen`}
              action={<ButtonLink to={`/tests/${test.id}`}>{t`Go on`}</ButtonLink>}
            >
              <p className="font-serif text-lg font-semibold">{test.title || t`Untitled test`}</p>
              <p className="text-sm text-graphite">{t`${plural(test.questions, { one: "# question", other: "# questions" })} so far`}</p>
            </Line>
          ))}
        </Region>
      )}
    </>
  );
}

type DeskLineProps = {
  sitting: Schemas["SittingLine"];
  margin: string;
  action: string;
  main?: boolean;
  to?: string;
  children: ReactNode;
};

function SittingDeskLine({ sitting, margin, action, main = false, to, children }: DeskLineProps) {
  return (
    <Line
      margin={margin}
      action={
        <ButtonLink to={to ?? `/sittings/${sitting.id}`} variant={main ? "main" : "plain"}>
          {action}
        </ButtonLink>
      }
    >
      <SittingTitle sitting={sitting} />
      <p className="text-sm text-graphite">{children}</p>
    </Line>
  );
}

function News({ news }: { news: Schemas["NewsLine"][] }) {
  return (
    <Region name={t`What the answers say`}>
      {news.length === 0 && (
        <p className="py-3 text-graphite">{t`Findings appear here as soon as the first student has handed in and a sitting is closed.`}</p>
      )}
      {news.map((line) => {
        const flag = line.first;
        return (
          <div key={line.sitting} className="border-b border-hairline py-3.5">
            <Link to={`/findings/${line.sitting}`} className="group">
              <p className="font-serif text-xl leading-snug font-semibold group-hover:underline">
                {flag
                  ? flag.heading
                  : line.too_few
                    ? t`Too few students to judge questions by.`
                    : t`No question is more likely than not to have misled anybody.`}
              </p>
            </Link>
            {flag && <p className="mt-1">{t`${questionName(flag.label)}. ${flag.how_sure}`}</p>}
            <p className="mt-1 text-sm text-graphite">
              {line.title} · {line.class_name} · {plural(line.students, { one: "# student", other: "# students" })}
              {line.flagged > 1 &&
                t` · ${plural(line.flagged - 1, { one: "# more question", other: "# more questions" })} to look at`}{" "}
              <span className="whitespace-nowrap">
                ·{" "}
                <Link to={`/results/${line.sitting}/skills`} className="text-iris underline">
                  {t`Feedback sheets`}
                  <span className="sr-only">{t` of ${line.title}, ${line.class_name}`}</span>
                </Link>
              </span>
            </p>
          </div>
        );
      })}
    </Region>
  );
}

/** An empty school: the job in the order people do it. */
