import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { ProgressBar } from "../ui/progress-bar";
import { Empty, Line, Page, Region } from "../ui/split-page";
import { listed, whenOf } from "../ui/words";

type Waiting = Schemas["WaitingSitting"];

/** What a person has to mark, by sitting: how much waits, and the way in. */
export function Marking() {
  const waiting = useQuery({ queryKey: ["marking"], queryFn: () => read(api.GET("/api/v1/marking")) });
  const more = (one: Waiting) => one.second_left + one.agree_left;
  const piles = useQuery({ queryKey: ["pile", "all"], queryFn: () => read(api.GET("/api/v1/piles")) });
  const comparisons = useQuery({
    queryKey: ["comparison", "all"],
    queryFn: () => read(api.GET("/api/v1/comparisons")),
  });
  const comparing = comparisons.data?.filter((one) => !one.ended) ?? [];
  const openPiles = piles.data?.filter((one) => !one.ended) ?? [];
  // What is shared out is marked in its pile, and counted there.
  const shared = waiting.data?.filter((one) => openPiles.some((pile) => pile.id === one.pile)) ?? [];
  const open =
    waiting.data?.filter((one) => !shared.includes(one) && (one.marked < one.to_mark || more(one) > 0)) ?? [];
  const done = waiting.data?.filter((one) => !open.includes(one) && !shared.includes(one)) ?? [];
  const answers =
    open.reduce((sum, one) => sum + one.to_mark - one.marked, 0) +
    openPiles.reduce((sum, one) => sum + one.mine_left, 0);
  return (
    <Page
      title={t`Marking`}
      facts={
        waiting.data &&
        piles.data &&
        (answers ? t`${plural(answers, { one: "# answer", other: "# answers" })} to mark` : t`nothing waits`)
      }
      actions={<ButtonLink to="/marking/comments">{t`Your comments`}</ButtonLink>}
    >
      <div className="px-6 py-4 lg:overflow-y-auto">
        <Problem error={waiting.error ?? piles.error ?? comparisons.error} />
        {openPiles.length > 0 && (
          <Region name={t`Shared piles`}>
            {openPiles.map((one) => (
              <SharedPile key={one.id} one={one} />
            ))}
          </Region>
        )}
        {comparing.length > 0 && (
          <Region name={t`Compared in pairs`}>
            {comparing.map((one) => (
              <ComparisonLine key={one.id} one={one} />
            ))}
          </Region>
        )}
        {waiting.data?.length === 0 && comparing.length === 0 && openPiles.length === 0 && (
          <Empty
            title={t`Nothing to mark.`}
            action={<ButtonLink to="/bank?new=1">{t`Write a question`}</ButtonLink>}
          >{t`What a key marks is marked already. Answers in students’ own words, files they hand in and what they perform come here once somebody hands in.`}</Empty>
        )}
        {open.length > 0 && (
          <Region name={t`To mark`}>
            {open.map((one) => (
              <Sitting key={one.sitting} one={one} />
            ))}
          </Region>
        )}
        {done.length > 0 && (
          <Region name={t`All marked`}>
            {done.map((one) => (
              <Sitting key={one.sitting} one={one} />
            ))}
          </Region>
        )}
      </div>
    </Page>
  );
}

function SharedPile({ one }: { one: Schemas["PileLine"] }) {
  return (
    <Line
      margin={one.due ? t`due ${whenOf(one.due)}` : t`shared`}
      action={
        <span className="flex gap-2">
          {one.leads && <ButtonLink to={`/piles/${one.id}`}>{t`How far it is`}</ButtonLink>}
          {one.marks && (
            <ButtonLink to={`/piles/${one.id}/mark`} variant={one.mine_left ? "main" : "plain"}>
              {one.mine_left ? t`Mark` : t`Look through`}
            </ButtonLink>
          )}
        </span>
      }
    >
      <Link to={one.marks ? `/piles/${one.id}/mark` : `/piles/${one.id}`} className="font-serif text-lg font-semibold">
        {one.title} <span className="font-sans text-base font-normal text-graphite">· {listed(one.classes)}</span>
      </Link>
      <p className="text-sm text-graphite">
        {[
          one.leads ? t`shared by you` : t`shared by ${one.head}`,
          t`${one.marked} of ${one.answers} marked`,
          one.marks && t`${one.mine_marked} by you`,
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      <div className="mt-1 max-w-60">
        <ProgressBar done={one.marked} of={one.answers} label={t`marked of ${one.title}`} />
      </div>
    </Line>
  );
}

function ComparisonLine({ one }: { one: Schemas["ComparisonLine"] }) {
  const isDone = one.done >= one.wanted;
  return (
    <Line
      margin={t`pairs`}
      action={
        <span className="flex gap-2">
          {one.leads && <ButtonLink to={`/comparisons/${one.id}`}>{t`The scale`}</ButtonLink>}
          {one.judges && !isDone && (
            <ButtonLink to={`/comparisons/${one.id}/judge`} variant="main">{t`Compare`}</ButtonLink>
          )}
        </span>
      }
    >
      <Link
        to={one.leads && (isDone || !one.judges) ? `/comparisons/${one.id}` : `/comparisons/${one.id}/judge`}
        className="font-serif text-lg font-semibold"
      >
        {one.question}{" "}
        <span className="font-sans text-base font-normal text-graphite">
          · {one.title}, {listed(one.classes)}
        </span>
      </Link>
      <p className="text-sm text-graphite">
        {[
          one.leads ? t`led by you` : t`led by ${one.head}`,
          t`${one.done} of ${one.wanted} pairs`,
          one.judges && t`${one.mine} by you`,
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
    </Line>
  );
}

function Sitting({ one }: { one: Waiting }) {
  const to = `/marking/${one.sitting}`;
  const left = one.to_mark - one.marked;
  return (
    <Line
      margin={one.closed_at ? whenOf(one.closed_at) : t`open`}
      action={
        <span className="flex gap-2">
          {one.typed && <ButtonLink to={`${to}/same/${one.typed}`}>{t`Same answers`}</ButtonLink>}
          {one.items.length > 0 && (
            <ButtonLink to={to} variant={left ? "main" : "plain"}>
              {left === 0 ? t`Look through` : one.marked ? t`Go on marking` : t`Mark`}
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
          .map((item) => t`question ${item.number}: ${item.marked} of ${item.to_mark}`)
          .join(" · ") || (one.typed ? t`short answers, marked by their key` : t`every question is waived`)}
        {one.names_hidden && t` · names hidden`}
        {one.pile !== null && t` · in a shared pile`}
      </p>
      {one.second_left + one.agree_left > 0 && (
        <p className="flex gap-4 text-sm">
          {one.second_left > 0 && (
            <Link className="text-iris underline" to={`${to}?reading=second`}>
              {t`${plural(one.second_left, { one: "# second mark", other: "# second marks" })} to give`}
            </Link>
          )}
          {one.agree_left > 0 && (
            <Link className="text-iris underline" to={`${to}?reading=agreed`}>
              {t`${plural(one.agree_left, { one: "# mark", other: "# marks" })} to agree on`}
            </Link>
          )}
        </p>
      )}
      {one.marked > 0 && left > 0 && (
        <div className="mt-1 max-w-60">
          <ProgressBar done={one.marked} of={one.to_mark} label={t`marked of ${one.title}`} />
        </div>
      )}
    </Line>
  );
}
