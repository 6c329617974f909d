import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { ProgressBar } from "../ui/progress-bar";
import { Empty, Line, Page, Region } from "../ui/split-page";
import { many, whenOf } from "../ui/words";

type Waiting = Schemas["WaitingSitting"];

/** What a person has to mark, by sitting: how much waits, and the way in. */
export function Marking() {
  const waiting = useQuery({ queryKey: ["marking"], queryFn: () => read(api.GET("/api/v1/marking")) });
  const more = (one: Waiting) => one.second_left + one.agree_left;
  const open = waiting.data?.filter((one) => one.marked < one.to_mark || more(one) > 0) ?? [];
  const done = waiting.data?.filter((one) => !open.includes(one)) ?? [];
  const answers = open.reduce((sum, one) => sum + one.to_mark - one.marked, 0);
  return (
    <Page title="Marking" facts={waiting.data && (answers ? `${many(answers, "answer")} to mark` : "nothing waits")}>
      <div className="max-w-5xl px-6 py-4">
        <Problem error={waiting.error} />
        {waiting.data?.length === 0 && (
          <Empty title="Nothing to mark." action={<ButtonLink to="/bank?new=1">Write a question</ButtonLink>}>
            What a key marks is marked already. Answers in students’ own words, files they hand in and what they perform
            come here once somebody hands in.
          </Empty>
        )}
        {open.length > 0 && (
          <Region name="To mark">
            {open.map((one) => (
              <Sitting key={one.sitting} one={one} />
            ))}
          </Region>
        )}
        {done.length > 0 && (
          <Region name="All marked">
            {done.map((one) => (
              <Sitting key={one.sitting} one={one} />
            ))}
          </Region>
        )}
      </div>
    </Page>
  );
}

function Sitting({ one }: { one: Waiting }) {
  const to = `/marking/${one.sitting}`;
  const left = one.to_mark - one.marked;
  return (
    <Line
      margin={one.closed_at ? whenOf(one.closed_at) : "open"}
      action={
        <span className="flex gap-2">
          {one.typed && <ButtonLink to={`${to}/same/${one.typed}`}>Same answers</ButtonLink>}
          {one.items.length > 0 && (
            <ButtonLink to={to} variant={left ? "main" : "plain"}>
              {left === 0 ? "Look through" : one.marked ? "Go on marking" : "Mark"}
            </ButtonLink>
          )}
        </span>
      }
    >
      <Link to={one.items.length ? to : `${to}/same/${one.typed}`} className="font-serif text-lg font-semibold">
        {one.title} <span className="font-sans text-base font-normal text-graphite">· {one.class_name}</span>
      </Link>
      <p className="text-sm text-graphite">
        {one.items
          .filter((item) => item.to_mark > 0)
          .map((item) => `question ${item.number}: ${item.marked} of ${item.to_mark}`)
          .join(" · ") || (one.typed ? "short answers, marked by their key" : "every question is waived")}
        {one.names_hidden && " · names hidden"}
      </p>
      {one.second_left + one.agree_left > 0 && (
        <p className="flex gap-4 text-sm">
          {one.second_left > 0 && (
            <Link className="text-iris underline" to={`${to}?reading=second`}>
              {many(one.second_left, "second mark")} to give
            </Link>
          )}
          {one.agree_left > 0 && (
            <Link className="text-iris underline" to={`${to}?reading=agreed`}>
              {many(one.agree_left, "mark")} to agree on
            </Link>
          )}
        </p>
      )}
      {one.marked > 0 && left > 0 && (
        <div className="mt-1 max-w-60">
          <ProgressBar done={one.marked} of={one.to_mark} label={`marked of ${one.title}`} />
        </div>
      )}
    </Line>
  );
}
