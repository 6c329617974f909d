import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { KeyCap } from "../ui/key-cap";
import { arrows, useKeys } from "../ui/keys";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
import { ProgressBar } from "../ui/progress-bar";
import { Rich } from "../ui/rich";
import { Empty, Page, SplitPage } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { amount } from "../ui/words";
import { LikeAnswers } from "./like-answers";
import { Marker } from "./marker";
import { Readings } from "./passes";
import { AgreeDialog } from "./pile-dialogs";
import { inOrder, nextWaiting, type Order } from "./sequence";
import { Strip } from "./strip";
import type { MarkingPage as Marked, Turn } from "./types";
import { type Colleague, useColleagues } from "./use-colleagues";
import { useMarking } from "./use-marking";
import { NotHere, Work } from "./work";

const ORDERS: Record<Order, string> = {
  number: t`By number`,
  chance: t`In an order of chance`,
  short: t`The shortest first`,
  unmarked: t`Those without a mark first`,
  like: t`Like answers together`,
};

/** At the desk of one sitting; a shared pile has a desk of its own. */
type DeskTurn = Exclude<Turn, "pile">;

const NOTHING: Record<Exclude<DeskTurn, "first">, string> = {
  second: t`No answer of this sitting is to be read a second time.`,
  agreed: t`No two marks of an answer are further apart than you allow.`,
};
const LEFT_OUT: Record<DeskTurn, (count: number) => string> = {
  first: (count) => plural(count, { one: "# student gave nothing", other: "# students gave nothing" }),
  second: (count) =>
    plural(count, { one: "# student not read a second time", other: "# students not read a second time" }),
  agreed: (count) =>
    plural(count, { one: "# student with nothing to agree on", other: "# students with nothing to agree on" }),
};
const DONE: Record<DeskTurn, string> = {
  first: t`has its mark. The findings count them.`,
  second: t`that is read a second time has its second mark.`,
  agreed: t`on which two marks were apart has been agreed on.`,
};

export function MarkingPage() {
  const { sittingId } = useParams();
  const [search] = useSearchParams();
  // Another sitting, another reading or an answer that somebody points to begins anew.
  return <MarkingDesk key={`${sittingId} ${search}`} sittingId={Number(sittingId)} search={search} />;
}

/** The marking desk: an answer on the left, what it earns on the right, and the next one a key away. */
function MarkingDesk({ sittingId, search }: { sittingId: number; search: URLSearchParams }) {
  const turn = (search.get("reading") ?? "first") as DeskTurn;
  const wanted = search.get("item");
  const marking = useMarking(sittingId, turn, wanted ? { item: wanted, number: Number(search.get("number")) } : {});
  const { page, at, all, here, answer } = marking;
  const colleagues = useColleagues(sittingId, turn, at);
  const say = useSay();
  const [finished, setFinished] = useState(false);
  const step = (by: number) => {
    const to = all[here + by];
    if (to) marking.go(to);
  };
  useKeys({
    ...arrows({ right: () => step(1), left: () => step(-1) }),
    b: () => marking.go({ byStudent: !marking.byStudent }),
  });
  if (!page)
    return (
      <Page title={t`Marking`}>
        <NoPage error={marking.problem} />
      </Page>
    );
  const item = page.items.find((item) => item.ref === at?.item);
  const entries = at ? inOrder(page.entries[at.item] ?? [], marking.order, sittingId, marking.like[at.item]) : [];
  const nothing = at ? (page.entries[at.item] ?? []).filter((one) => one.state === "nothing") : [];
  const marked = entries.filter((entry) => entry.state === "kept").length;
  const onKept = () => {
    if (!at) return;
    const next = nextWaiting(all, page.entries, at);
    if (next) marking.go(next);
    else setFinished(true);
  };
  const waived = page.items.filter((item) => item.waived);
  return (
    <Page
      title={t`Marking`}
      of={`${page.title} · ${page.class_name}`}
      facts={page.names_hidden ? t`names hidden` : ""}
      actions={
        <>
          {colleagues.length > 0 && (
            <span role="status" className="text-sm text-plum">
              {colleagues.map((colleague) => whereIs(colleague, page)).join(" ")}
            </span>
          )}
          {item && (
            <span className="flex items-center gap-3 text-sm text-graphite">
              <span>
                <Trans>
                  Question {item.number}: <strong className="text-ink">{t`${marked} of ${entries.length}`}</strong>{" "}
                  marked
                </Trans>
              </span>
              <span className="hidden w-32 xl:block">
                <ProgressBar done={marked} of={entries.length} label={t`marked of question ${item.number}`} />
              </span>
            </span>
          )}
          <Menu
            trigger={<Button>{marking.byStudent ? t`By student ▾` : t`By question ▾`}</Button>}
            choices={[
              {
                name: marking.byStudent ? t`One question across the class` : t`One student through all questions`,
                says: "B",
                onChoose: () => marking.go({ byStudent: !marking.byStudent }),
              },
              ...(Object.keys(ORDERS) as Order[]).map((order) => ({
                name: ORDERS[order],
                says: order === marking.order ? t`now` : "",
                onChoose: () => marking.go({ order }),
              })),
            ]}
          />
          <More marking={marking} item={item?.ref} />
          <ButtonLink to="/marking">{t`Leave for now`}</ButtonLink>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`The answer`, right: t`The mark` }}
        left={
          <>
            <Problem error={marking.error} />
            {page.second && <Readings page={page} />}
            {page.pile !== null && <InPile page={page} />}
            {waived.length > 0 && (
              <p className="mb-3 text-sm text-graphite">
                {t`Waived here: ${waived.map((one) => t`question ${one.number}`).join(", ")}.`}{" "}
                {waived.map((one) => (
                  <Button
                    key={one.ref}
                    variant="quiet"
                    onClick={() => marking.waive(one.ref, false)}
                  >{t`mark question ${one.number} after all`}</Button>
                ))}
              </p>
            )}
            {item && at ? (
              <>
                {page.items.length > 1 && <Questions marking={marking} />}
                <p className="mb-2 text-xs font-semibold tracking-[0.09em] text-graphite uppercase">
                  {t`Question ${item.number} · ${plural(item.marks, { one: "# mark", other: "# marks" })}`}
                </p>
                <Rich html={item.stem} className="font-serif text-lg leading-snug" />
                <div className="mt-4" />
                {/* What is there already can be marked without a connection. */}
                <Problem error={answer ? null : marking.answerProblem} />
                {marking.answerAway && !answer && <NotHere />}
                {answer && answer.number === at.number && (
                  <Work
                    key={`${turn} ${at.item} ${at.number}`}
                    sittingId={sittingId}
                    turn={turn}
                    item={item}
                    at={at}
                    answer={answer}
                    name={page.names[at.number] ?? (page.names_hidden ? t`No. ${at.number}` : t`Desk ${at.number}`)}
                  />
                )}
                <LikeAnswers sittingId={sittingId} turn={turn} at={at} onGo={(number) => marking.go({ number })} />
                <p className="mt-3 flex flex-wrap gap-x-4 gap-y-1 text-sm text-graphite">
                  <span>
                    <KeyCap>0</KeyCap>
                    <Trans>
                      –<KeyCap>9</KeyCap> points
                    </Trans>
                  </span>
                  <span>
                    <Trans>
                      <KeyCap>.</KeyCap> half a point more
                    </Trans>
                  </span>
                  <span>
                    <Trans>
                      <KeyCap>Space</KeyCap> next criterion
                    </Trans>
                  </span>
                  <span>
                    <Trans>
                      <KeyCap>C</KeyCap> comment
                    </Trans>
                  </span>
                  <span>
                    <KeyCap>←</KeyCap>{" "}
                    <Trans>
                      <KeyCap>→</KeyCap> answer
                    </Trans>
                  </span>
                  {nothing.length > 0 && <span className="ms-auto">{LEFT_OUT[turn](nothing.length)}</span>}
                </p>
              </>
            ) : (
              <Empty
                title={t`Nothing to mark here.`}
                action={<ButtonLink to="/marking">{t`What else waits`}</ButtonLink>}
              >
                {turn !== "first"
                  ? NOTHING[turn]
                  : page.items.every((item) => item.waived)
                    ? t`Every question that a person marks is waived.`
                    : t`Nobody who has handed in gave an answer that a person marks.`}
              </Empty>
            )}
          </>
        }
        right={
          item && at && answer && answer.number === at.number ? (
            <Marker
              key={`${turn} ${at.item} ${at.number}`}
              sittingId={sittingId}
              turn={turn}
              item={item}
              at={at}
              answer={answer}
              name={page.names[at.number] ?? ""}
              onKept={onKept}
            />
          ) : null
        }
      />
      {item && at && (
        <Strip
          entries={entries}
          at={at.number}
          names={page.names}
          watched={item.kind === "performance"}
          colleagues={whereAre(colleagues, at.item, turn)}
          onGo={(number) => marking.go({ number })}
        />
      )}
      <Dialog
        open={finished}
        onClose={() => setFinished(false)}
        title={t`All marked.`}
        says={t`Every answer of ${page.title}, ${page.class_name}, ${DONE[turn]}`}
      >
        <p className="flex flex-wrap gap-3">
          {turn === "first" ? (
            <ButtonLink to={`/findings/${sittingId}`} variant="main">{t`See the findings`}</ButtonLink>
          ) : (
            <ButtonLink to={`/marking/${sittingId}/second`} variant="main">{t`How far the two agree`}</ButtonLink>
          )}
          {page.names_hidden && (
            <Button
              onClick={() => {
                marking.hideNames(false);
                setFinished(false);
                say(t`The names are shown.`);
              }}
            >{t`Show the names`}</Button>
          )}
          <ButtonLink to={`/results/${sittingId}`}>{t`Results`}</ButtonLink>
          <ButtonLink to="/marking">{t`What else waits`}</ButtonLink>
        </p>
      </Dialog>
    </Page>
  );
}

/** “Varga is at question 12, no. 7.” */
function whereIs({ name, item, number }: Colleague, page: Marked): string {
  const question = page.items.find((one) => one.ref === item)?.number ?? "?";
  return t`${name} is at question ${question}, no. ${number}.`;
}

function whereAre(colleagues: Colleague[], item: string, turn: Turn): Record<number, string[]> {
  const found: Record<number, string[]> = {};
  for (const colleague of colleagues)
    if (colleague.item === item && colleague.turn === turn)
      found[colleague.number] = [...(found[colleague.number] ?? []), colleague.name];
  return found;
}

/** The questions of the sitting that a person marks, as a line to change between. */
function Questions({ marking }: { marking: ReturnType<typeof useMarking> }) {
  const { page, at } = marking;
  if (!page || !at) return null;
  return (
    <nav aria-label={t`Questions`} className="mb-4 flex flex-wrap gap-1 border-b border-hairline">
      {page.items
        .filter((item) => !item.waived)
        .map((item) => {
          const entries = page.entries[item.ref] ?? [];
          const left = entries.filter((entry) => entry.state === "waiting" || entry.state === "draft").length;
          const first =
            entries.find((entry) => entry.number === at.number && entry.state !== "nothing") ??
            entries.find((entry) => entry.state !== "nothing");
          return (
            <button
              key={item.ref}
              type="button"
              aria-current={item.ref === at.item ? "true" : undefined}
              disabled={!first}
              onClick={() => first && marking.go({ item: item.ref, number: first.number })}
              className={`-mb-px border-b-2 px-3 py-1.5 text-sm ${item.ref === at.item ? "border-iris font-semibold" : "border-transparent text-graphite hover:text-ink"}`}
            >
              {t`Question ${item.number}`} {left > 0 && <span className="text-plum">{left}</span>}
            </button>
          );
        })}
    </nav>
  );
}

/** That these answers are shared out: a colleague marks theirs there, and its head agrees on answers here. */
function InPile({ page }: { page: Marked }) {
  return (
    <p role="status" className="mb-3 border-s-2 border-iris bg-iris-wash px-3 py-2 text-sm">
      {page.leads_pile
        ? t`These answers are in a shared pile that you lead. What you mark here nobody else gets.`
        : t`These answers are in a shared pile, and are marked there.`}{" "}
      <Link className="text-iris underline" to={page.leads_pile ? `/piles/${page.pile}` : `/piles/${page.pile}/mark`}>
        {page.leads_pile ? t`How far it is` : t`To the pile`}
      </Link>
    </p>
  );
}

/** What is done now and then: leaving a question out, and names. */
function More({ marking, item }: { marking: ReturnType<typeof useMarking>; item: string | undefined }) {
  const { page } = marking;
  const say = useSay();
  const navigate = useNavigate();
  const [showing, setShowing] = useState(false);
  const [agreeing, setAgreeing] = useState(false);
  const now = page?.items.find((one) => one.ref === item);
  const choices = [
    now && {
      name: t`Waive question ${now.number}`,
      says: t`${amount(now.marks, 0)} out of the total and the findings`,
      onChoose: () => {
        marking.waive(now.ref, true);
        say(t`Question ${now.number} is waived here. Marks that were given are kept.`, () =>
          marking.waive(now.ref, false),
        );
      },
    },
    page && {
      name: page.second ? t`Second marks, and how they agree` : t`A second marker…`,
      onChoose: () => navigate(`/marking/${page.sitting}/second`),
    },
    page?.leads_pile &&
      marking.answer?.mark?.state === "kept" && {
        name: t`Use as an agreed answer…`,
        says: t`the markers of the pile meet it unseen`,
        onChoose: () => setAgreeing(true),
      },
    page && {
      name: page.pile === null ? t`Share with colleagues…` : t`The shared pile`,
      says: t`one pile, several markers`,
      onChoose: () => navigate(`/marking/${page.sitting}/pile`),
    },
    page && {
      name: t`Compare in pairs…`,
      says: t`which of two is better`,
      onChoose: () => navigate(`/marking/${page.sitting}/compare`),
    },
    page && {
      name: t`Away from the desk…`,
      says: t`all work as a zip, and back`,
      onChoose: () => navigate(`/marking/${page.sitting}/away`),
    },
    page && {
      name: t`All marks as a workbook`,
      says: t`who, when, instead of what`,
      onChoose: () => location.assign(`/api/v1/sittings/${page.sitting}/marking/history/xlsx`),
    },
    page?.may_hide && {
      name: t`Hide the names`,
      says: t`before the first mark`,
      onChoose: () => marking.hideNames(true),
    },
    page?.names_hidden && { name: t`Show the names…`, onChoose: () => setShowing(true) },
  ].filter((choice) => choice !== false && choice !== undefined);
  if (choices.length === 0) return null;
  return (
    <>
      <Menu trigger={<Button>{t`More`}</Button>} choices={choices} />
      {page?.pile && marking.at && (
        <AgreeDialog
          open={agreeing}
          pileId={page.pile}
          sittingId={page.sitting}
          at={marking.at}
          onClose={() => setAgreeing(false)}
        />
      )}
      <Dialog
        open={showing}
        onClose={() => setShowing(false)}
        title={t`Show the names?`}
        says={t`For this sitting that is once and for all: they cannot be hidden again, for you or for a colleague.`}
      >
        <Button
          variant="main"
          onClick={() => {
            marking.hideNames(false);
            setShowing(false);
          }}
        >{t`Show them`}</Button>
      </Dialog>
    </>
  );
}
