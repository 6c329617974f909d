import { plural, t } from "@lingui/core/macro";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { ItemFacts } from "../bank/item-line";
import { Button, ButtonLink } from "../ui/button";
import { Field, Problem, TextInput } from "../ui/field";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
import { Empty, Opening, Page, Region, SplitPage } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { amount, begun, figure, percent } from "../ui/words";

type Question = Schemas["EquivalentQuestion"];
type Item = Schemas["ItemLine"];
type Predicted = Schemas["PredictedStatistics"];
/** Question of the test -> the one that stands in its place; those that stay are not in it. */
type Swaps = Record<string, string>;

const WHY: Record<Question["why_kept"], string> = {
  "": "",
  varies: t`Its numbers are drawn anew, so it may stay as it is.`,
  "no skill": t`It has no skill, so nothing tells which other one asks the same.`,
  "no other": t`The bank has no other one left on its skills.`,
};

/** Another test that asks the same: for each question the closest other one, to take, to exchange or to leave. */
export function EquivalentPage() {
  const { testId } = useParams();
  const page = useQuery({
    queryKey: ["tests", "equivalent", testId],
    queryFn: () =>
      read(api.GET("/api/v1/tests/{test_id}/equivalent", { params: { path: { test_id: Number(testId) } } })),
    // What is chosen here stays while one looks at the bank in another window.
    refetchOnWindowFocus: false,
    staleTime: 0,
  });
  if (!page.data || !page.isFetchedAfterMount)
    return (
      <Page title={t`An equivalent test`}>
        <NoPage error={page.error} />
      </Page>
    );
  return <Choosing key={testId} page={page.data} />;
}

function Choosing({ page }: { page: Schemas["EquivalentPage"] }) {
  const [chosen, setChosen] = useState<Swaps>(() =>
    Object.fromEntries(page.questions.flatMap((one) => (one.suggested ? [[one.item.id, one.suggested]] : []))),
  );
  const [title, setTitle] = useState(() => t`${begun(page.title || t`Untitled test`, 170)} (equivalent)`);
  // What was taken out of the bank meanwhile, in another window or by a colleague, is chosen no more.
  const offered = new Set(page.questions.flatMap((one) => one.others.map((other) => other.id)));
  const swaps = Object.fromEntries(Object.entries(chosen).filter(([, other]) => offered.has(other)));
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const path = { path: { test_id: page.id } };
  const both = useQuery({
    queryKey: ["tests", "equivalent", String(page.id), "foretold", swaps],
    queryFn: () => read(api.POST("/api/v1/tests/{test_id}/equivalent/foretold", { params: path, body: { swaps } })),
    placeholderData: keepPreviousData,
  });
  const make = useMutation({
    mutationFn: () => read(api.POST("/api/v1/tests/{test_id}/equivalent", { params: path, body: { title, swaps } })),
    onSuccess: (made) => {
      void changed(client, "tests");
      navigate(`/tests/${made.id}`);
      say(t`This is the equivalent test. The first one is as it was.`);
    },
    onError: () => client.invalidateQueries({ queryKey: ["tests", "equivalent", String(page.id)], exact: true }),
  });
  const others = Object.keys(swaps).length;
  const put = (question: Question, other: Item | null) =>
    setChosen(({ [question.item.id]: _, ...rest }) => (other ? { ...rest, [question.item.id]: other.id } : rest));
  return (
    <Page
      title={t`An equivalent test`}
      of={page.title || t`Untitled test`}
      actions={<ButtonLink to={`/tests/${page.id}`}>{t`Back to the test`}</ButtonLink>}
    >
      {page.questions.length === 0 ? (
        <div className="px-6">
          <Empty
            title={t`This test has no questions of its own yet.`}
            action={<ButtonLink to={`/tests/${page.id}`}>{t`Back to the test`}</ButtonLink>}
          >{t`Questions that a section draws are drawn anew for every edition: for two papers of those, freeze two equivalent editions.`}</Empty>
        </div>
      ) : (
        <SplitPage
          names={{ left: t`Question by question`, right: t`The two tests` }}
          left={
            <>
              <Opening>
                {plural(page.questions.length, { one: "# question", other: "# questions" })}{" "}
                {others === 0
                  ? t`stay as they are.`
                  : plural(others, {
                      one: "in the test, and another one in the place of # of them.",
                      other: "in the test, and others in the place of # of them.",
                    })}
              </Opening>
              <p className="mb-3 text-sm text-graphite">{t`Of the questions on the same skill the closest in difficulty, kind and marks is put beside each one; none is put in twice. Nothing is made before you say so.`}</p>
              <ol>
                {page.questions.map((question, at) => (
                  <Place
                    key={question.item.id}
                    question={question}
                    section={question.section !== page.questions[at - 1]?.section ? question.section : ""}
                    swaps={swaps}
                    onPut={(other) => put(question, other)}
                  />
                ))}
              </ol>
            </>
          }
          right={
            <>
              <Field label={t`Title of the equivalent test`}>
                {(id) => (
                  <TextInput id={id} maxLength={200} value={title} onChange={(event) => setTitle(event.target.value)} />
                )}
              </Field>
              <Problem error={make.error ?? both.error} />
              <p className="my-4">
                <Button
                  variant="main"
                  disabled={make.isPending || !title.trim()}
                  onClick={() => make.mutate()}
                >{t`Make the test`}</Button>
              </p>
              {both.data && <SideBySide this={both.data.this} other={both.data.other} />}
            </>
          }
        />
      )}
    </Page>
  );
}

type PlaceProps = { question: Question; section: string; swaps: Swaps; onPut: (other: Item | null) => void };

/** One question of the test, and beside it what stands in its place. */
function Place({ question, section, swaps, onPut }: PlaceProps) {
  const { item, others, number } = question;
  const put = others.find((other) => other.id === swaps[item.id]) ?? null;
  const elsewhere = new Set(Object.entries(swaps).flatMap(([of, other]) => (of === item.id ? [] : [other])));
  const of = t` for question ${number}`;
  const free = others.filter((other) => other !== put && !elsewhere.has(other.id));
  return (
    <li className="border-b border-hairline py-3">
      {section && <h2 className="mb-2 font-serif font-semibold">{section}</h2>}
      <div className="grid gap-x-5 gap-y-2 sm:grid-cols-[2rem_minmax(0,1fr)_minmax(0,1.2fr)]">
        <span className="text-graphite">{number}</span>
        <div className="min-w-0">
          <p dir="auto" className="line-clamp-3 font-serif leading-snug wrap-anywhere">
            {item.words || t`A question without text`}
          </p>
          <ItemFacts item={item} />
        </div>
        <div className="min-w-0 border-s-2 border-iris ps-3">
          {put ? (
            <>
              <p dir="auto" className="line-clamp-3 font-serif leading-snug wrap-anywhere">
                {put.words || t`A question without text`}
              </p>
              <ItemFacts item={put} />
              <p className="text-sm">{apart(item, put)}</p>
            </>
          ) : (
            <p className="text-graphite">
              {t`The same question stays.`} {WHY[question.why_kept]}
            </p>
          )}
          <p className="mt-1.5 flex flex-wrap gap-2" data-screen-only>
            {free.length > 0 && (
              <Menu
                trigger={
                  <Button>
                    {put ? t`Another one ▾` : t`Take another one ▾`}
                    <span className="sr-only">{of}</span>
                  </Button>
                }
                choices={free.map((other) => ({
                  name: begun(other.words || t`A question without text`, 70),
                  says: apart(item, other),
                  onChoose: () => onPut(other),
                }))}
              />
            )}
            {put && (
              <Button variant="quiet" onClick={() => onPut(null)}>
                {t`Keep the same`}
                <span className="sr-only">{of}</span>
              </Button>
            )}
          </p>
        </div>
      </div>
    </li>
  );
}

/** How a question differs from the one whose place it takes, as far as that is known. */
function apart(own: Item, other: Item): string {
  const facts = [];
  if (own.difficulty === null || other.difficulty === null) facts.push(t`how hard beside it: not known yet`);
  else {
    const [before, now] = [percent(own.difficulty), percent(other.difficulty)];
    if (before === now) facts.push(t`as hard`);
    else
      facts.push(
        other.difficulty > own.difficulty
          ? t`easier: ${now} of its marks earned, not ${before}`
          : t`harder: ${now} of its marks earned, not ${before}`,
      );
  }
  if (own.kind !== other.kind) facts.push(t`of another kind`);
  if (own.marks !== other.marks)
    facts.push(plural(other.marks, { one: "# mark in the bank", other: "# marks in the bank" }));
  if (own.stimulus !== other.stimulus && other.stimulus) facts.push(t`with a stimulus of its own`);
  return facts.join("; ");
}

/** What both are likely to do, a line a figure. */
function SideBySide({ this: one, other }: { this: Predicted; other: Predicted }) {
  const lines: [string, (test: Predicted) => string][] = [
    [t`Questions`, (test) => amount(test.questions, 0)],
    [t`Marks`, (test) => amount(test.marks, test.marks % 1 ? 1 : 0)],
    [t`Minutes, about`, (test) => amount(test.minutes, 0)],
    [t`Used before`, (test) => t`${test.known} of ${test.questions}`],
    [t`Mean to expect`, (test) => (test.foretold ? amount(test.foretold.mean.middle) : "–")],
    [
      t`nine times in ten`,
      (test) => (test.foretold ? t`${amount(test.foretold.mean.low)} to ${amount(test.foretold.mean.high)}` : "–"),
    ],
    [t`Reliability`, (test) => (test.foretold ? figure(test.foretold.reliability.middle) : "–")],
  ];
  return (
    <Region name={t`What to expect of both`}>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-start text-graphite">
            <td />
            <th scope="col" className="py-1 text-end font-normal">{t`this test`}</th>
            <th scope="col" className="py-1 text-end font-normal">{t`the other one`}</th>
          </tr>
        </thead>
        <tbody>
          {lines.map(([name, of]) => (
            <tr key={name} className="border-t border-hairline">
              <th scope="row" className="py-1 text-start font-normal">
                {name}
              </th>
              <td className="text-end">{of(one)}</td>
              <td className="text-end font-semibold">{of(other)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {!(one.foretold && other.foretold) && (
        <p className="pt-2 text-sm text-graphite">{t`Where too few of the questions were used before, nothing is foretold, and whether the two are equally hard cannot be said.`}</p>
      )}
    </Region>
  );
}
