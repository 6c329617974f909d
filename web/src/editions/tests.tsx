import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskInRoom } from "../ui/ask-in-room";
import { type Glance, LastSitting, OpenAndNext, useGlance } from "../ui/at-a-glance";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { ListTools, MANY, SortedBy, useListChoice, useTyped } from "../ui/list-tools";
import { useNewOne } from "../ui/new-one";
import { SeveralBar, SeveralButton, Tick, useSeveral } from "../ui/several";
import { Empty, Page, Region } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { dayOf } from "../ui/words";

type Test = Schemas["TestLine"];

const SORTED = { used: t`Last given first`, changed: t`Last changed first`, title: t`By title` };
type Sorted = keyof typeof SORTED;
const SOME_WEEKS = 28 * 24 * 60 * 60 * 1000;

/** Under which heading a test stands when the list is in the order in which tests were given. */
function whenGiven(test: Test, line: Glance | undefined, now: number): "now" | "unused" | "lately" | "before" {
  if (line && (line.open_now.length > 0 || line.next)) return "now";
  if (!line?.last?.day) return test.editions.length > 0 || test.marks_only ? "unused" : "now";
  return now - new Date(line.last.day).getTime() < SOME_WEEKS ? "lately" : "before";
}

const GIVEN = {
  now: t`In the making, planned or open`,
  unused: t`Ready, and not given yet`,
  lately: t`Given in the last four weeks`,
  before: t`Given before that`,
};

/** The tests: of each what it holds, who sits it next, and how it went the last time. */
export function Tests() {
  const [open, setOpen] = useNewOne();
  const [describing, setDescribing] = useState(false);
  const [away, setAway] = useState(false);
  const { typed, type, holds } = useTyped();
  const [sorted, setSorted] = useListChoice<Sorted>("tests", "used", ["used", "changed", "title"]);
  const several = useSeveral<number>();
  const client = useQueryClient();
  const say = useSay();
  const glance = useGlance("tests");
  const tests = useQuery({
    queryKey: ["tests", away],
    queryFn: () => read(api.GET("/api/v1/tests", { params: { query: { archived: away } } })),
  });
  const put = async (ids: readonly number[], putAway: boolean) => {
    const one = (test_id: number) =>
      putAway
        ? read(api.POST("/api/v1/tests/{test_id}/put-away", { params: { path: { test_id } } }))
        : read(api.POST("/api/v1/tests/{test_id}/restore", { params: { path: { test_id } } }));
    // Where one is refused, since a colleague was there first, the list shows what became of the others.
    await Promise.all(ids.map(one)).finally(() => changed(client, "tests"));
  };
  const restore = useMutation({ mutationFn: (id: number) => put([id], false) });
  const putSeveral = useMutation({
    mutationFn: () => put(several.ticked, !away),
    onSuccess: () => {
      const ids = several.ticked;
      several.end();
      const tests = plural(ids.length, { one: "# test", other: "# tests" });
      say(away ? t`Taken out again: ${tests}.` : t`Put away: ${tests}.`, () => put(ids, away));
    },
  });
  const all = tests.data ?? [];
  const lastDay = (test: Test) => glance.get(test.id)?.last?.day ?? "";
  const inOrder: Record<Sorted, (one: Test, other: Test) => number> = {
    used: (one, other) => lastDay(other).localeCompare(lastDay(one)) || other.changed_at.localeCompare(one.changed_at),
    changed: (one, other) => other.changed_at.localeCompare(one.changed_at),
    title: (one, other) => one.title.localeCompare(other.title),
  };
  const shown = all
    .filter((test) => holds(`${test.title} ${glance.get(test.id)?.last?.class_name ?? ""}`))
    .sort(inOrder[sorted]);
  const now = Date.now();
  const rows = (some: Test[]) =>
    some.map((test) => (
      <TestRow
        key={test.id}
        test={test}
        line={glance.get(test.id)}
        several={several}
        onTakeOut={away ? () => restore.mutate(test.id) : undefined}
      />
    ));
  const add = <Button variant="main" keyHint="N" onClick={() => setOpen(true)}>{t`New test`}</Button>;
  return (
    <Page
      title={t`Tests`}
      facts={all.length > MANY ? plural(all.length, { one: "# test", other: "# tests" }) : ""}
      actions={
        <>
          <ButtonLink to="/shelf">{t`From the shelf`}</ButtonLink>
          <Button onClick={() => setDescribing(true)}>{t`Marks only`}</Button>
          {all.length > 1 && <SeveralButton several={several} />}
          {add}
        </>
      }
    >
      <div className="px-6 py-4 lg:overflow-y-auto">
        <Problem error={tests.error ?? restore.error ?? putSeveral.error} />
        {away && tests.data?.length === 0 && <p className="py-4 text-graphite">{t`No test is put away.`}</p>}
        {!away && tests.data?.length === 0 && (
          <Empty
            title={t`No test yet.`}
            action={add}
          >{t`A test is questions from the bank in an order. Freeze it when it is done, and give it as often as you like.`}</Empty>
        )}
        <ListTools
          name={t`Find a test`}
          hint={t`Find by title or class`}
          typed={typed}
          onType={type}
          count={all.length}
        >
          {all.length > 2 && <SortedBy value={sorted} of={SORTED} onChange={setSorted} />}
        </ListTools>
        <SeveralBar several={several} every={shown.map((test) => test.id)}>
          <Button disabled={several.ticked.length === 0 || putSeveral.isPending} onClick={() => putSeveral.mutate()}>
            {away ? t`Take them out again` : t`Put them away`}
          </Button>
        </SeveralBar>
        {all.length > 0 && shown.length === 0 && <p className="py-3 text-graphite">{t`No test holds these words.`}</p>}
        {sorted === "used" && !away ? (
          (Object.keys(GIVEN) as (keyof typeof GIVEN)[]).map((given) => {
            const some = shown.filter((test) => whenGiven(test, glance.get(test.id), now) === given);
            return (
              some.length > 0 && (
                <Region key={given} name={GIVEN[given]}>
                  <ul>{rows(some)}</ul>
                </Region>
              )
            );
          })
        ) : (
          <ul>{rows(shown)}</ul>
        )}
        <Button variant="quiet" className="mt-4" onClick={() => setAway(!away)}>
          {away ? t`Back to the tests in use` : t`Tests put away`}
        </Button>
      </div>
      <NewTest open={open} onClose={() => setOpen(false)} />
      <NewTest marksOnly open={describing} onClose={() => setDescribing(false)} />
    </Page>
  );
}

type RowProps = {
  test: Test;
  line: Glance | undefined;
  several: ReturnType<typeof useSeveral<number>>;
  onTakeOut: (() => void) | undefined;
};

function TestRow({ test, line, several, onTakeOut }: RowProps) {
  const latest = test.editions[0];
  return (
    <li className="flex items-start gap-x-3 border-b border-hairline py-3">
      <Tick several={several} one={test.id} name={t`Tick ${test.title || t`Untitled test`}`} />
      <div className="grid min-w-0 flex-1 items-center gap-x-6 gap-y-1 md:grid-cols-[6rem_minmax(0,1.2fr)_minmax(0,1fr)_15rem]">
        <span className="text-sm text-graphite">
          {test.marks_only
            ? plural(test.questions, { one: "# line", other: "# lines" })
            : test.pages > 0
              ? t`lesson, ${test.questions} q.`
              : plural(test.questions, { one: "# question", other: "# questions" })}
        </span>
        <div className="min-w-0 wrap-anywhere">
          <Link to={`/tests/${test.id}`} className="font-serif text-lg font-semibold hover:underline">
            {test.title || t`Untitled test`}
          </Link>
          <p className="text-sm text-graphite">
            {test.marks_only
              ? t`marks only`
              : latest
                ? t`edition ${latest.number}, frozen ${dayOf(latest.frozen_at)}`
                : t`not frozen yet`}
            {test.shared && t` · on the shelf`}
            {line && line.over > 0 && ` · ${plural(line.over, { one: "given once", other: "given # times" })}`}
          </p>
          <OpenAndNext line={line} of="tests" />
        </div>
        <LastSitting line={line} of="tests" />
        <span className="flex flex-wrap gap-2 md:justify-self-end">
          {onTakeOut ? (
            <Button onClick={onTakeOut}>{t`Take it out again`}</Button>
          ) : (
            !test.marks_only &&
            latest && (
              <>
                <AskInRoom what={{ edition: latest.id }} />
                <ButtonLink to={`/sittings?new=1&edition=${latest.id}`}>{t`Plan a sitting`}</ButtonLink>
              </>
            )
          )}
        </span>
      </div>
    </li>
  );
}

type NewProps = { open: boolean; onClose: () => void; marksOnly?: boolean };

function NewTest({ open, onClose, marksOnly = false }: NewProps) {
  const [title, setTitle] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => read(api.POST(marksOnly ? "/api/v1/tests/marks-only" : "/api/v1/tests", { body: { title } })),
    onSuccess: (made) => {
      void changed(client, "tests");
      navigate(`/tests/${made.id}`);
    },
  });
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={marksOnly ? t`Marks only` : t`New test`}
      says={marksOnly ? t`A test given and marked elsewhere: say what its marks are for, then enter them.` : ""}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <Field label={marksOnly ? t`Title` : t`Title, as students see it`}>
          {(id) => (
            <TextInput
              id={id}
              autoFocus
              required
              maxLength={200}
              value={title}
              onChange={(event) => setTitle(event.target.value)}
            />
          )}
        </Field>
        <Problem error={make.error} />
        <Button type="submit" variant="main">
          {marksOnly ? t`Describe it` : t`Choose its questions`}
        </Button>
      </form>
    </Dialog>
  );
}
