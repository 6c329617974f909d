import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { useOutbox, useOutboxState } from "../outbox/use-outbox";
import { Button, ButtonLink } from "../ui/button";
import { Problem, TextInput } from "../ui/field";
import { arrows, useKeys } from "../ui/keys";
import { NoPage } from "../ui/no-page";
import { ProgressBar } from "../ui/progress-bar";
import { Empty, Opening, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { dayOf, namesIn } from "../ui/words";
import type { CardToSend } from "./sender";

type Cards = Schemas["CardsPage"];
type Student = Cards["students"][number];
type Card = Cards["cards"][number];
const LONG = 24;

/** A card at a time with a student beside the teacher: one key for what came of it, and whom to call next. */
export function CardsPage() {
  const sittingId = Number(useParams().sittingId);
  const client = useQueryClient();
  const navigate = useNavigate();
  const key = ["one to one", sittingId];
  const params = { path: { sitting_id: sittingId } };
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/one-to-one", { params })),
  });
  const [chosen, setChosen] = useState<number | null>(null);
  const [place, setPlace] = useState<number | null>(null);
  const outbox = useOutbox();
  useOutboxState();
  const unsent = outbox.of<CardToSend>("card").filter((entry) => entry.body.sitting === sittingId && !entry.refusal);
  const say = ({ seat, ...said }: Schemas["CardSaid"] & { seat: number }) =>
    outbox.put("card", `${sittingId} ${seat} ${said.item}`, t`a card`, { sitting: sittingId, seat, said });
  const again = useMutation({
    mutationFn: () => read(api.POST("/api/v1/sittings/{sitting_id}/one-to-one/again", { params })),
    onSuccess: ({ sitting }) => {
      client.invalidateQueries();
      setChosen(null);
      setPlace(null);
      navigate(`/sittings/${sitting}/one-to-one`);
    },
  });
  // What was said and is not sent yet counts as said.
  const page = unsent.reduce(
    (now, { body: { seat, said } }) => now && told(now, seat, said.item, said.known, said.note),
    found.data,
  );
  const student = page?.students.find((student) => student.seat === (chosen ?? page.calling[0])) ?? page?.students[0];
  const open = page && student ? page.cards.findIndex((card) => !(card.ref in student.said)) : -1;
  const at = place ?? Math.max(open, 0);
  const card = page?.cards[at];
  const call = (seat: number | null) => {
    setChosen(seat);
    setPlace(null);
  };
  const answer = (known: boolean | null) => {
    if (!page || !student || !card) return;
    say({ seat: student.seat, item: card.ref, known, note: null });
    setChosen(student.seat);
    if (known !== null) setPlace(Math.min(at + 1, page.cards.length - 1));
  };
  const move = (by: number) => page && setPlace(Math.max(0, Math.min(page.cards.length - 1, at + by)));
  const next = () => page && call(page.calling.find((seat) => seat !== student?.seat) ?? null);
  useKeys({
    1: () => answer(true),
    2: () => answer(false),
    0: () => answer(null),
    n: () => document.getElementById("card-note")?.focus(),
    k: next,
    ...arrows({ left: () => move(-1), right: () => move(1) }),
  });
  if (!page || !student || !card)
    return (
      <Page title={t`One to one`}>
        <NoPage error={found.error} />
        {page && (
          <div className="px-6">
            <Empty
              title={t`${page.class_name} has no students yet.`}
              action={<ButtonLink to={`/classes/${page.class_id}`} variant="main">{t`Add students`}</ButtonLink>}
            >{t`One after another they come to you; the cards are ready.`}</Empty>
          </div>
        )}
      </Page>
    );
  const first = page.tries[0];
  return (
    <Page
      title={page.title}
      facts={t`${page.class_name} · one to one${page.tries.length > 1 ? t` · ${page.tries.findIndex((attempt) => attempt.sitting === sittingId) + 1} of ${page.tries.length} tries` : ""}`}
      actions={
        <>
          {page.tries.map((attempt) => (
            <Link
              key={attempt.sitting}
              to={`/sittings/${attempt.sitting}/one-to-one`}
              onClick={() => call(null)}
              aria-current={attempt.sitting === sittingId ? "page" : undefined}
              className={`text-sm ${attempt.sitting === sittingId ? "font-semibold underline underline-offset-4" : "text-graphite"}`}
            >
              {attempt === first && page.tries.length > 1
                ? t`baseline, ${dayOf(attempt.held_on)}`
                : dayOf(attempt.held_on)}
            </Link>
          ))}
          <ButtonLink to={`/sittings/${sittingId}`}>{t`All marks`}</ButtonLink>
          <Button disabled={again.isPending} onClick={() => again.mutate()}>{t`Another try`}</Button>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`The card, for ${student.name}`, right: t`The class` }}
        left={
          <>
            <div className="mb-3 flex flex-wrap items-baseline justify-between gap-x-4">
              <h2 className="font-serif text-2xl font-semibold">{student.name}</h2>
              <span className="text-sm text-graphite">
                {t`${student.known} known of ${student.asked} asked`}
                {student.before !== null && t`, ${student.before} the time before`}
              </span>
            </div>
            <ProgressBar done={student.asked} of={page.cards.length} label={t`cards asked`} />
            <CardFace card={card} at={at} of={page.cards.length} student={student} />
            <Problem error={again.error} />
            <div className="mt-4 flex flex-wrap gap-3">
              <Button variant="main" keyHint="1" onClick={() => answer(true)}>{t`Knows it`}</Button>
              <Button keyHint="2" onClick={() => answer(false)}>{t`Not yet`}</Button>
              <Button keyHint="0" onClick={() => answer(null)}>{t`Not asked`}</Button>
              <span className="flex-1" />
              <Button keyHint="←" disabled={at === 0} onClick={() => move(-1)}>{t`Back`}</Button>
              <Button keyHint="→" disabled={at === page.cards.length - 1} onClick={() => move(1)}>{t`On`}</Button>
            </div>
            <Note
              key={`${student.seat} ${card.ref}`}
              note={student.notes[card.ref] ?? ""}
              onNote={(note) =>
                say({ seat: student.seat, item: card.ref, known: student.said[card.ref] ?? null, note })
              }
            />
          </>
        }
        right={
          <>
            <Opening>{page.opening}</Opening>
            <Calling page={page} student={student} onCall={call} onNext={next} />
            <ByCard page={page} chosen={card.ref} onChoose={setPlace} />
          </>
        }
      />
    </Page>
  );
}

type FaceProps = { card: Card; at: number; of: number; student: Student };

function CardFace({ card, at, of, student }: FaceProps) {
  const said = student.said[card.ref];
  const was = student.earlier[card.ref];
  const look = said === undefined ? "border-edge" : said ? "border-teal bg-teal-wash" : "border-clay bg-clay-wash";
  return (
    <section aria-label={t`Card ${at + 1} of ${of}`} className={`mt-4 border-2 px-6 py-8 text-center ${look}`}>
      <p className="flex justify-between text-sm text-graphite">
        <span>{t`${at + 1} of ${of}`}</span>
        <span>{card.text === card.label ? "" : card.label}</span>
      </p>
      <p
        className={`my-6 flex min-h-40 items-center justify-center font-serif leading-tight wrap-anywhere ${card.text.length > LONG ? "text-4xl" : "text-6xl"}`}
      >
        {card.text}
      </p>
      <p className="min-h-6 text-sm">
        {said !== undefined && (
          <strong className={said ? "text-teal" : "text-clay"}>{said ? t`● knows it` : t`○ not yet`}</strong>
        )}
        {was !== undefined && (
          <span className="ms-3 text-graphite">{t`the time before: ${was ? t`knew it` : t`not yet`}`}</span>
        )}
      </p>
    </section>
  );
}

function Note({ note, onNote }: { note: string; onNote: (note: string) => void }) {
  const [text, setText] = useState(note);
  return (
    <form
      className="mt-4"
      onSubmit={(event) => {
        event.preventDefault();
        document.getElementById("card-note")?.blur();
      }}
    >
      <label className="block text-sm">
        <span className="font-semibold">{t`Note`}</span>{" "}
        <span className="text-graphite">{t`key N; kept when you leave it`}</span>
        <TextInput
          id="card-note"
          className="mt-1"
          maxLength={300}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={() => text.trim() !== note && onNote(text)}
        />
      </label>
    </form>
  );
}

type CallingProps = { page: Cards; student: Student; onCall: (seat: number) => void; onNext: () => void };

function Calling({ page, student, onCall, onNext }: CallingProps) {
  const rank = (seat: number) => {
    const found = page.calling.indexOf(seat);
    return found < 0 ? page.students.length : found;
  };
  const students = [...page.students].sort((a, b) => rank(a.seat) - rank(b.seat) || a.desk - b.desk);
  return (
    <Region
      name={t`Whom to call`}
      remark={
        <Button variant="quiet" disabled={page.calling.length === 0} onClick={onNext}>{t`the next one, key K`}</Button>
      }
    >
      <ul className="flex flex-wrap gap-1.5 pt-2">
        {students.map((one) => (
          <li key={one.seat}>
            <button
              type="button"
              aria-pressed={one.seat === student.seat}
              onClick={() => onCall(one.seat)}
              className={`border px-2 py-0.5 text-sm ${one.seat === student.seat ? "border-iris bg-iris-wash font-semibold" : "border-hairline bg-page"}`}
            >
              {one.name}{" "}
              <span className="text-graphite">
                {one.away
                  ? t`away`
                  : one.asked === page.cards.length
                    ? `● ${one.known}`
                    : one.asked
                      ? `◐ ${one.asked}`
                      : "○"}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-xs text-graphite">{t`● through, with how many are known; ◐ stopped after so many cards; ○ not called yet.`}</p>
    </Region>
  );
}

type ByCardProps = { page: Cards; chosen: string; onChoose: (place: number) => void };

function ByCard({ page, chosen, onChoose }: ByCardProps) {
  const names = Object.fromEntries(page.students.map((one) => [one.seat, one.name]));
  const order = page.cards
    .map((card, at) => ({ card, at }))
    .sort((a, b) => share(a.card) - share(b.card) || a.at - b.at);
  return (
    <Region name={t`Cards, the least known first`}>
      <Table
        caption={t`Cards, the least known first`}
        heads={[{ label: t`Card` }, { label: t`Known`, right: true }, { label: t`Who needs it` }]}
      >
        {order.map(({ card, at }) => (
          <Row key={card.ref} selected={card.ref === chosen}>
            <Cell>
              <button type="button" className="text-start font-serif hover:underline" onClick={() => onChoose(at)}>
                {card.text}
              </button>
            </Cell>
            <Cell right>{card.asked ? t`${card.known} of ${card.asked}` : "–"}</Cell>
            <Cell>
              <span className="text-sm">
                {card.needs.length > 0 && namesIn(card.needs.map((seat) => names[seat] ?? ""))}
              </span>
            </Cell>
          </Row>
        ))}
      </Table>
      <p className="mt-1 text-xs text-graphite">{t`${plural(page.cards.length, { one: "# card", other: "# cards" })}. Known is out of those who were asked.`}</p>
    </Region>
  );
}

const share = (card: Card) => (card.asked ? card.known / card.asked : 2);

/** The page as it will be once the server has it: the next card is there at once. */
function told(page: Cards, seat: number, item: string, known: boolean | null, note: string | null | undefined): Cards {
  return {
    ...page,
    students: page.students.map((one) => {
      if (one.seat !== seat) return one;
      const { [item]: _before, ...others } = one.said;
      const said = known === null ? others : { ...others, [item]: known };
      return {
        ...one,
        said,
        asked: Object.keys(said).length,
        known: Object.values(said).filter(Boolean).length,
        notes: note === null || note === undefined ? one.notes : { ...one.notes, [item]: note },
      };
    }),
  };
}
