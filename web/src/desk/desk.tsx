import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { SittingTitle } from "../delivery/sitting-title";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Empty, Line, Page, Region, SplitPage } from "../ui/split-page";
import { longDayOf, many, whenOf } from "../ui/words";

/** What is open, what waits, what is new. */
export function Desk() {
  const desk = useQuery({
    queryKey: ["desk"],
    queryFn: () => read(api.GET("/api/v1/desk")),
    refetchInterval: 30_000,
  });
  return (
    <Page
      title="Desk"
      actions={
        <>
          <ButtonLink to="/tests?new=1">New test</ButtonLink>
          <ButtonLink to="/sittings?new=1">New sitting</ButtonLink>
        </>
      }
    >
      {desk.isError && <Problem error={desk.error} />}
      {desk.data &&
        (desk.data.empty ? (
          <FirstSteps />
        ) : (
          <SplitPage
            names={{ left: "Today", right: "New findings" }}
            left={<Today desk={desk.data} />}
            right={<News news={desk.data.news} />}
          />
        ))}
    </Page>
  );
}

function Today({ desk }: { desk: Schemas["Desk"] }) {
  // Marks of a test given elsewhere are work of the teacher: nobody sits there.
  const open = desk.open.filter((sitting) => !sitting.marks_only);
  const toEnter = desk.open.filter((sitting) => sitting.marks_only);
  const working = open.reduce((sum, sitting) => sum + sitting.working, 0);
  const next = desk.waiting[0];
  return (
    <>
      <h2 className="font-serif text-3xl font-semibold">{longDayOf(new Date())}</h2>
      <p className="mb-6 text-graphite">
        {open.length > 0
          ? `${many(open.length, "sitting")} open, ${many(working, "student")} at work.`
          : next?.planned_for
            ? `Next: ${next.class_name}, ${whenOf(next.planned_for)}.`
            : "Nothing is open."}
      </p>
      {open.length > 0 && (
        <Region name="Open now">
          {open.map((sitting) => (
            <SittingDeskLine key={sitting.id} sitting={sitting} margin={sitting.code} action="Watch" main>
              <span className="text-teal">
                {sitting.handed_in} of {sitting.seats} handed in, {sitting.working} working, {sitting.expected} not here
                yet
              </span>
            </SittingDeskLine>
          ))}
        </Region>
      )}
      <Region name="Coming up">
        {desk.waiting.map((sitting) => (
          <SittingDeskLine
            key={sitting.id}
            sitting={sitting}
            margin={sitting.planned_for ? whenOf(sitting.planned_for) : "when you say"}
            action={sitting.missing.length ? "Complete it" : "Go to it"}
          >
            {sitting.missing.length ? (
              <span className="text-clay">◆ {sitting.missing.join(" ")}</span>
            ) : (
              `ready: ${many(sitting.seats, "seat")}`
            )}
          </SittingDeskLine>
        ))}
        {desk.waiting.length === 0 && <p className="py-3 text-graphite">No sitting is planned.</p>}
      </Region>
      {(toEnter.length > 0 ||
        desk.to_mark.length > 0 ||
        desk.to_settle.length > 0 ||
        desk.absent.length > 0 ||
        desk.unfinished.length > 0) && (
        <Region name="Waiting for you">
          {toEnter.map((sitting) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={many(sitting.working + sitting.expected, "row")}
              action="Enter marks"
            >
              not full yet, of {sitting.seats}
            </SittingDeskLine>
          ))}
          {desk.to_mark.map(({ sitting, answers }) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={many(answers, "answer")}
              action="Mark them"
              to={`/marking/${sitting.id}`}
            >
              <span className="text-plum">to mark; the findings leave them out until then</span>
            </SittingDeskLine>
          ))}
          {desk.to_settle.map(({ sitting, places }) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={many(places, "place")}
              action="Settle them"
              to={`/sittings/queries?sitting=${sitting.id}`}
            >
              <span className="text-ochre">◐ on scanned sheets, in doubt</span>
            </SittingDeskLine>
          ))}
          {desk.absent.map((sitting) => (
            <SittingDeskLine
              key={sitting.id}
              sitting={sitting}
              margin={many(sitting.seats - sitting.handed_in, "student")}
              action="See who"
            >
              have not sat it
            </SittingDeskLine>
          ))}
          {desk.unfinished.map((test) => (
            <Line key={test.id} margin="not frozen" action={<ButtonLink to={`/tests/${test.id}`}>Go on</ButtonLink>}>
              <p className="font-serif text-lg font-semibold">{test.title || "Untitled test"}</p>
              <p className="text-sm text-graphite">{many(test.questions, "question")} so far</p>
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
    <Region name="What the answers say">
      {news.length === 0 && (
        <p className="py-3 text-graphite">
          Findings appear here as soon as the first student has handed in and a sitting is closed.
        </p>
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
                    ? "Too few students to judge questions by."
                    : "No question is more likely than not to have misled anybody."}
              </p>
            </Link>
            {flag && (
              <p className="mt-1">
                Question {flag.label}. {flag.how_sure}
              </p>
            )}
            <p className="mt-1 text-sm text-graphite">
              {line.title} · {line.class_name} · {many(line.students, "student")}
              {line.flagged > 1 && ` · ${many(line.flagged - 1, "more question")} to look at`}
            </p>
          </div>
        );
      })}
    </Region>
  );
}

/** An empty school: the job in the order people do it. */
function FirstSteps() {
  const steps = [
    ["/classes?new=1", "Make a class", "Type or paste the names; desk numbers and passes are given."],
    ["/bank", "Write questions", "With the idea that each wrong option would show."],
    ["/tests?new=1", "Put them into a test", "And freeze it, so that its results stay explained."],
    ["/sittings?new=1", "Plan a sitting", "Students join with the code on the board and their pass."],
  ] as const;
  return (
    <div className="max-w-2xl px-6 py-2">
      <Empty title="Your desk is clear.">Four steps lead to the first finding.</Empty>
      {steps.map(([to, title, says], place) => (
        <Line
          key={to}
          margin={`${place + 1}`}
          action={
            <ButtonLink to={to} variant={place === 0 ? "main" : "plain"}>
              {title}
            </ButtonLink>
          }
        >
          <p>{says}</p>
        </Line>
      ))}
    </div>
  );
}
