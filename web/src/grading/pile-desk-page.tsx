import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { arrows, useKeys } from "../ui/keys";
import { NoPage } from "../ui/no-page";
import { ProgressBar } from "../ui/progress-bar";
import { Rich } from "../ui/rich";
import { Empty, Page, SplitPage } from "../ui/split-page";
import { momentOf } from "../ui/words";
import { LikeAnswers } from "./like-answers";
import { Marker } from "./marker";
import { closeness } from "./pile-words";
import { Practice } from "./practice";
import { Strip } from "./strip";
import { type PileDesk, type PileEntry, placeOf, usePileDesk } from "./use-pile-desk";
import { NotHere, Work } from "./work";

/** The desk of a shared pile: the answers in one’s own hands, one after another. */
export function PileDeskPage() {
  const pileId = Number(useParams().pileId);
  const pile = usePileDesk(pileId);
  const { desk, now, answer } = pile;
  const step = (by: number) => pile.go(desk?.entries[pile.here + by]);
  useKeys(arrows({ right: () => step(1), left: () => step(-1) }));
  if (!desk)
    return (
      <Page title={t`Shared pile`}>
        <NoPage error={pile.problem} />
      </Page>
    );
  const waiting = desk.entries.filter((one) => one.entry.state !== "kept").length;
  const item = desk.items.find((item) => item.ref === now?.item);
  const here = now && answer && answer.number === now.entry.number ? { now, answer } : null;
  return (
    <Page
      title={desk.title}
      facts={t`shared by ${desk.head}${desk.due ? t` · due ${momentOf(desk.due)}` : ""}${desk.names_hidden ? t` · names hidden` : ""}`}
      actions={
        <>
          <span className="text-sm text-graphite">
            <Trans>
              <strong className="text-ink">{waiting}</strong> in your hands · {desk.left} of {desk.answers} left in all
            </Trans>
          </span>
          <span className="hidden w-32 xl:block">
            <ProgressBar done={desk.answers - desk.left} of={desk.answers} label={t`marked of the pile`} />
          </span>
          <ButtonLink to="/marking">{t`Leave for now`}</ButtonLink>
        </>
      }
    >
      {desk.to_practise.length > 0 ? (
        <FirstSamples pileId={pileId} desk={desk} />
      ) : !now || pile.ended ? (
        <div className="px-6 py-5">
          <Nothing desk={desk} coming={pile.coming} />
        </div>
      ) : (
        <>
          <SplitPage
            split="even"
            names={{ left: t`The answer`, right: t`The mark` }}
            left={
              <>
                <Closeness desk={desk} />
                {waiting === 0 && <Nothing desk={desk} coming={pile.coming} />}
                <p className="mb-2 text-xs font-semibold tracking-[0.09em] text-graphite uppercase">
                  {t`Question ${item?.number ?? "?"} · ${plural(item?.marks ?? 0, { one: "# mark", other: "# marks" })}`}
                </p>
                {item && <Rich html={item.stem} className="font-serif text-lg leading-snug" />}
                <div className="mt-4" />
                <Problem error={answer ? null : pile.answerProblem} />
                {pile.answerAway && !here && <NotHere />}
                {item && here && (
                  <Work
                    key={keyOf(now)}
                    sittingId={now.sitting}
                    turn="pile"
                    item={item}
                    at={placeOf(now)}
                    answer={here.answer}
                    name={now.name || t`No. ${now.entry.number}`}
                  />
                )}
                {here && <LikeAnswers sittingId={now.sitting} turn="pile" at={placeOf(now)} />}
              </>
            }
            right={
              item &&
              here && (
                <Marker
                  key={keyOf(now)}
                  sittingId={now.sitting}
                  turn="pile"
                  item={item}
                  at={placeOf(now)}
                  // The desk hears of it before the answer is asked for again.
                  answer={{ ...here.answer, again: now.again }}
                  name={now.name}
                  onKept={pile.goOn}
                />
              )
            }
          />
          <Strip
            entries={desk.entries.filter((one) => one.item === now.item).map((one) => one.entry)}
            at={now.entry.number}
            names={Object.fromEntries(desk.entries.map((one) => [one.entry.number, one.name]))}
            colleagues={{}}
            onGo={(number) => pile.go(desk.entries.find((one) => one.item === now.item && one.entry.number === number))}
          />
        </>
      )}
    </Page>
  );
}

const keyOf = (one: PileEntry) => `${one.sitting} ${one.item} ${one.entry.number}`;

/** How close one is to what was agreed on, where that is known: for oneself, before it matters. */
function Closeness({ desk }: { desk: PileDesk }) {
  const known = desk.close.filter((line) => line.severity !== null);
  if (known.length === 0) return null;
  return (
    <section aria-label={t`How close you are`} className="mb-4 border-s-2 border-iris bg-iris-wash px-3 py-2 text-sm">
      {known.map((line) => (
        <p key={line.item}>{t`Question ${line.number}: ${closeness(line)}`}</p>
      ))}
    </section>
  );
}

function Nothing({ desk, coming }: { desk: PileDesk; coming: boolean }) {
  if (coming && !desk.waits_to_begin)
    return (
      <Empty
        title={t`Everything in your hands is marked.`}
      >{t`The next answers come as soon as these marks have arrived.`}</Empty>
    );
  return (
    <Empty
      title={
        desk.waits_to_begin && desk.begins
          ? t`This pile may be marked from ${momentOf(desk.begins)}.`
          : desk.left === 0
            ? t`The whole pile is marked.`
            : t`Nothing in your hands.`
      }
      action={<ButtonLink to="/marking">{t`What else waits`}</ButtonLink>}
    >
      {desk.elsewhere > 0 &&
        plural(desk.elsewhere, {
          one: "# answer waits, in somebody else’s hands.",
          other: "# answers wait, in other hands.",
        })}
    </Empty>
  );
}

/** The sample answers of every question, before the first answer of the pile is handed out. */
function FirstSamples({ pileId, desk }: { pileId: number; desk: PileDesk }) {
  const client = useQueryClient();
  const [at, setAt] = useState(0);
  const begin = useMutation({
    mutationFn: () => read(api.POST("/api/v1/piles/{pile_id}/practised", { params: { path: { pile_id: pileId } } })),
    onSuccess: () => changed(client, "pile"),
  });
  const item = desk.items.find((item) => item.ref === desk.to_practise[at]);
  return (
    <div className="max-w-3xl px-6 py-5 lg:min-h-0 lg:overflow-y-auto">
      <Problem error={begin.error} />
      <p className="mb-3 text-graphite">
        {t`${desk.head} asks everybody to mark the sample answers first. Nobody sees what you give them.`}
      </p>
      {item && (
        <>
          <h2 className="mb-2 font-serif text-lg font-semibold">{t`Question ${item.number}`}</h2>
          <Rich html={item.stem} className="mb-4 font-serif text-lg" />
          <Practice
            key={item.ref}
            rubric={item.rubric}
            onDone={() => (at + 1 < desk.to_practise.length ? setAt(at + 1) : begin.mutate())}
          />
        </>
      )}
    </div>
  );
}
