import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
import { ProgressBar } from "../ui/progress-bar";
import { Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { amount, listed, momentOf } from "../ui/words";
import { LevelsDialog } from "./levels-dialog";
import { AgreedAnswers } from "./pile-agreed";
import { EffectDialog, SendBackDialog } from "./pile-dialogs";
import { type Body, PilePlan } from "./pile-plan";
import type { Change, Pile } from "./pile-types";
import { closeness } from "./pile-words";

type Marker = Pile["markers"][number];
const EVERY = 15_000;

/** A shared pile as its head sees it: who has how many, how close they are to what was agreed, and who marks what. */
export function PilePage() {
  const pileId = Number(useParams().pileId);
  const path = { pile_id: pileId };
  const client = useQueryClient();
  const found = useQuery({
    queryKey: ["pile", pileId],
    queryFn: () => read(api.GET("/api/v1/piles/{pile_id}", { params: { path } })),
    refetchInterval: EVERY,
  });
  const change = useMutation({
    mutationFn: (make: () => Promise<unknown>) => make(),
    onSettled: () => changed(client, "pile"),
  });
  const [ending, setEnding] = useState(false);
  const pile = found.data;
  if (!pile)
    return (
      <Page title={t`Shared pile`}>
        <NoPage error={found.error} />
      </Page>
    );
  const answers = pile.questions.reduce((sum, one) => sum + one.answers, 0);
  const marked = pile.questions.reduce((sum, one) => sum + one.marked, 0);
  return (
    <Page
      title={pile.title}
      facts={[
        listed(pile.sittings.map((one) => one.class_name)),
        pile.due && t`due ${momentOf(pile.due)}`,
        pile.ended_at && t`ended ${momentOf(pile.ended_at)}`,
      ]
        .filter(Boolean)
        .join(" · ")}
      actions={
        <>
          <span className="text-sm text-graphite">{t`${marked} of ${answers} marked`}</span>
          <span className="hidden w-32 xl:block">
            <ProgressBar done={marked} of={answers} label={t`marked of the pile`} />
          </span>
          {!pile.ended_at && <Button onClick={() => setEnding(true)}>{t`End the pile…`}</Button>}
          <ButtonLink to="/marking">{t`What else waits`}</ButtonLink>
        </>
      }
    >
      <SplitPage
        names={{ left: t`How far it is`, right: t`Who marks what` }}
        left={
          <>
            <Problem error={found.error ?? change.error} />
            {pile.nobody > 0 && !pile.ended_at && (
              <p role="status" className="mb-4 border-s-2 border-ochre bg-ochre-wash px-3 py-2">
                {plural(pile.nobody, {
                  one: "# answer is nobody’s: none of the markers may mark it.",
                  other: "# answers are nobody’s: none of the markers may mark them.",
                })}
              </p>
            )}
            <Markers pile={pile} onChange={change.mutate} />
            <Questions pile={pile} />
            <AgreedAnswers pile={pile} onChange={change.mutate} />
          </>
        }
        right={
          pile.ended_at ? (
            <p className="text-graphite">{t`This pile is ended. Its marks stay; what is left is marked with its class, or shared again.`}</p>
          ) : (
            <Region name={t`Who marks what`}>
              <PilePlan
                key={pile.markers.map((one) => `${one.id} ${one.left}`).join()}
                plan={planOf(pile)}
                sittings={[]}
                questions={pile.questions}
                colleagues={pile.colleagues}
                students={pile.students}
                isNew={false}
                busy={change.isPending}
                onPlan={(body) =>
                  change.mutate(() => read(api.PUT("/api/v1/piles/{pile_id}", { params: { path }, body })))
                }
              />
            </Region>
          )
        }
      />
      <Dialog
        open={ending}
        onClose={() => setEnding(false)}
        title={t`End the pile?`}
        says={t`Nothing more is handed out, and its markers see these answers no more. Every mark stays; ${answers - marked} answers without one are marked with their class.`}
      >
        <Button
          variant="main"
          onClick={() => {
            setEnding(false);
            change.mutate(() => read(api.DELETE("/api/v1/piles/{pile_id}", { params: { path } })));
          }}
        >{t`End it`}</Button>
      </Dialog>
    </Page>
  );
}

const planOf = (pile: Pile): Body => ({
  way: pile.way,
  sittings: pile.sittings.map((one) => one.sitting),
  markers: pile.markers
    .filter((one) => !one.left)
    .map(({ teacher, share, items, barred }) => ({ teacher, share, items, barred })),
  names: pile.names,
  begins: pile.begins,
  due: pile.due,
  practise_first: pile.practise_first,
  not_own: pile.not_own,
  like_together: pile.like_together,
  check_every: pile.check_every,
});

/** Who has how many, and how each marks beside what was agreed on. */
function Markers({ pile, onChange }: { pile: Pile; onChange: Change }) {
  return (
    <Region name={t`Markers`} remark={pile.practise_first ? t`sample answers first` : undefined}>
      <Table
        caption={t`Markers`}
        heads={[
          { label: t`Name` },
          { label: t`In hand`, right: true },
          { label: t`Marked`, right: true },
          { label: t`To look at again`, right: true },
          { label: t`What can be done`, silent: true },
        ]}
      >
        {pile.markers.map((marker) => (
          <MarkerRow key={marker.id} pile={pile} marker={marker} onChange={onChange} />
        ))}
      </Table>
      {pile.markers
        .filter((marker) => marker.close.length > 0)
        .map((marker) => (
          <section key={marker.id} aria-label={t`How close ${marker.name} is`} className="mt-3">
            <h3 className="font-semibold">
              <bdi>{marker.name}</bdi>
            </h3>
            {marker.close.map((line) => (
              <p key={line.item} className="text-sm">
                {t`Question ${line.number}: ${closeness(line)}`}{" "}
                {line.adjustment !== 0 && (
                  <>
                    <strong>{t`${signed(line.adjustment)} points on each of their marks.`}</strong>{" "}
                    <Button
                      variant="quiet"
                      onClick={() =>
                        onChange(() =>
                          read(
                            api.POST("/api/v1/piles/{pile_id}/adjustments/end", {
                              params: { path: { pile_id: pile.id } },
                              body: { marker: marker.id, item: line.item },
                            }),
                          ),
                        )
                      }
                    >{t`count them as given`}</Button>
                  </>
                )}
              </p>
            ))}
          </section>
        ))}
    </Region>
  );
}

const signed = (points: number) => `${points > 0 ? "+" : "−"}${amount(Math.abs(points), 2)}`;

function MarkerRow({ pile, marker, onChange }: { pile: Pile; marker: Marker; onChange: Change }) {
  const [shown, setShown] = useState<"again" | number | null>(null);
  const path = { pile_id: pile.id, marker_id: marker.id };
  const adjustable = marker.close.filter((line) => line.proposed !== null && line.proposed !== 0);
  const choices = [
    marker.marked > 0 &&
      !marker.left && {
        name: t`Ask to look again…`,
        says: t`at what they have marked`,
        onChoose: () => setShown("again"),
      },
    ...adjustable.map((line, place) => ({
      name: t`Adjust their marks of question ${line.number}…`,
      says: t`the effect is shown first`,
      onChoose: () => setShown(place),
    })),
    !marker.left &&
      pile.markers.filter((one) => !one.left).length > 1 && {
        name: t`Give the rest to the others`,
        says: t`they get nothing more`,
        onChoose: () =>
          onChange(() => read(api.DELETE("/api/v1/piles/{pile_id}/markers/{marker_id}", { params: { path } }))),
      },
  ].filter((choice) => choice !== false);
  const line = typeof shown === "number" ? adjustable[shown] : undefined;
  return (
    <Row>
      <Cell>
        <bdi className="wrap-anywhere">{marker.name}</bdi>
        {marker.left && <span className="text-graphite">{t` · no longer in it`}</span>}
        {pile.practise_first && !marker.practised && !marker.left && (
          <span className="text-graphite">{t` · sample answers not marked yet`}</span>
        )}
      </Cell>
      <Cell right>{marker.in_hand}</Cell>
      <Cell right>{marker.marked}</Cell>
      <Cell right>{marker.again || "–"}</Cell>
      <Cell right>
        {choices.length > 0 && !pile.ended_at && (
          <Menu
            trigger={
              <Button variant="quiet" aria-label={t`What can be done about ${marker.name}`}>
                ⋯
              </Button>
            }
            choices={choices}
          />
        )}
        <SendBackDialog
          open={shown === "again"}
          pile={pile}
          marker={marker}
          onClose={() => setShown(null)}
          onChange={onChange}
        />
        {line && (
          <EffectDialog pile={pile} marker={marker} line={line} onClose={() => setShown(null)} onChange={onChange} />
        )}
      </Cell>
    </Row>
  );
}

function Questions({ pile }: { pile: Pile }) {
  const [changing, setChanging] = useState<Pile["questions"][number] | null>(null);
  const any = pile.sittings[0];
  return (
    <Region name={t`Questions`}>
      {pile.questions
        .filter((one) => one.answers > 0)
        .map((one) => (
          <div key={one.ref} className="border-b border-hairline py-2">
            <p className="flex items-baseline gap-3">
              <span className="font-semibold">{one.number}</span>
              <span className="min-w-0 flex-1 truncate font-serif">{one.stem}</span>
              <span className="text-sm text-graphite">
                {t`${one.marked} of ${one.answers} marked`}
                {one.in_hand > 0 && t` · ${one.in_hand} in hand`}
              </span>
              {any && !pile.ended_at && (
                <Button
                  variant="quiet"
                  aria-label={t`Change levels of question ${one.number}…`}
                  onClick={() => setChanging(one)}
                >{t`Change levels…`}</Button>
              )}
            </p>
            <ProgressBar done={one.marked} of={one.answers} label={t`marked of question ${one.number}`} />
          </div>
        ))}
      {any && changing && <LevelsDialog sittingId={any.sitting} item={changing} onClose={() => setChanging(null)} />}
    </Region>
  );
}
