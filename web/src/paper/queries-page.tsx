import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Choice, Field, Problem } from "../ui/field";
import { useKeys } from "../ui/keys";
import { Empty, Page, SplitPage } from "../ui/split-page";
import { listed } from "../ui/words";
import { Settle } from "./settle";
import { Enlarged, Lit, SheetPicture } from "./sheet-picture";

type Query = Schemas["Query"];
type PageAct = Schemas["PageAct"];

/** Places that the reader would not guess: the sheet with the place lit, and beside it the place enlarged. */
export function QueriesPage() {
  const sitting = Number(useSearchParams()[0].get("sitting")) || null;
  const client = useQueryClient();
  const key = ["queries", sitting];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/queries", { params: { query: sitting ? { sitting } : {} } })),
  });
  const [at, setAt] = useState(0);
  const [done, setDone] = useState<number[]>([]);
  const refresh = (now: (before: number[]) => number[]) => {
    setDone(now);
    void changed(client, "scans");
  };
  const settle = useMutation({
    mutationFn: ({ place, answer }: { place: number; answer: string }) =>
      read(
        api.PUT("/api/v1/queries/places/{reading_id}", { params: { path: { reading_id: place } }, body: { answer } }),
      ),
    onSuccess: ({ id }) => refresh((before) => [...before, id]),
  });
  const act = useMutation({
    mutationFn: ({ page, body }: { page: string; body: PageAct }) =>
      read(api.PUT("/api/v1/queries/pages/{page_id}", { params: { path: { page_id: page } }, body })),
    onSuccess: ({ id }) => refresh((before) => [...before, id]),
  });
  const undo = useMutation({
    mutationFn: (id: number) =>
      read(api.DELETE("/api/v1/queries/settled/{settling_id}", { params: { path: { settling_id: id } } })),
    onSuccess: (_, id) => refresh((before) => before.filter((one) => one !== id)),
  });
  const queries = found.data?.queries ?? [];
  const query = queries[Math.min(at, queries.length - 1)];
  const last = done[done.length - 1];
  useEffect(() => setAt((before) => Math.max(0, Math.min(before, queries.length - 1))), [queries.length]);
  const go = (by: number) => setAt((before) => (before + by + queries.length) % Math.max(1, queries.length));
  useKeys({ j: () => go(1), k: () => go(-1), u: () => last && undo.mutate(last) });
  const busy = settle.isPending || act.isPending || undo.isPending;
  const takeBack = last && (
    <Button keyHint="U" disabled={busy} onClick={() => undo.mutate(last)}>{t`Take the last one back`}</Button>
  );
  if (!found.data || !query)
    return (
      <Page title={t`To settle`} actions={takeBack}>
        <div className="px-6">
          <Problem error={found.error ?? undo.error} />
          {found.data && (
            <Empty
              title={done.length > 0 ? t`All settled.` : t`Nothing to settle.`}
              action={
                <ButtonLink to={sitting ? `/findings/${sitting}` : "/sittings/scans"} variant="main">
                  {sitting ? t`Read the findings` : t`Go to the scan inbox`}
                </ButtonLink>
              }
            >{t`What a scan leaves in doubt comes here, with its picture. Every answer counts as soon as it is settled.`}</Empty>
          )}
        </div>
      </Page>
    );
  return (
    <Page
      title={t`To settle`}
      facts={t`${queries.indexOf(query) + 1} of ${queries.length}${query.sheet.sitting_name ? ` · ${query.sheet.sitting_name}` : ""}`}
      actions={
        <>
          {takeBack}
          <Button keyHint="K" onClick={() => go(-1)}>{t`Back`}</Button>
          <Button keyHint="J" onClick={() => go(1)}>{t`Later`}</Button>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`The sheet`, right: t`The place` }}
        left={
          <SheetPicture sheet={query.sheet} lit={query.place ?? undefined}>
            {query.sheet.straight &&
              query.differing.map((place) => <Lit key={place.id} sheet={query.sheet} box={place} />)}
          </SheetPicture>
        }
        right={
          <div key={query.key}>
            <Whose query={query} />
            <Problem error={settle.error ?? act.error ?? undo.error} />
            {query.place ? (
              <Doubt
                query={query}
                place={query.place}
                busy={busy}
                onSettle={(answer) => query.place && settle.mutate({ place: query.place.id, answer })}
              />
            ) : (
              <WholePage
                query={query}
                seats={found.data.seats}
                busy={busy}
                onAct={(body) => act.mutate({ page: query.sheet.page, body })}
              />
            )}
          </div>
        }
      />
    </Page>
  );
}

function Whose({ query }: { query: Query }) {
  const { desk, student } = query.sheet;
  return (
    <p className="mb-4 font-serif text-2xl font-semibold">
      {desk !== null && <span className="me-3 text-base font-normal text-graphite">{desk}</span>}
      {student || t`Whose sheet is this?`}
    </p>
  );
}

type DoubtProps = {
  query: Query;
  place: Schemas["Place"];
  busy: boolean;
  onSettle: (answer: string) => void;
};

function Doubt({ query, place, busy, onSettle }: DoubtProps) {
  return (
    <>
      <p className="mb-1">
        {place.label === "number" ? t`The number of this spare sheet` : t`Question ${place.label}`}
        <span className="ms-2 text-graphite">{place.question}</span>
      </p>
      {query.sheet.straight && (
        <Enlarged sheet={query.sheet} box={place} label={t`The place enlarged: ${place.note}`} />
      )}
      <p className="mt-2 text-ochre">◐ {place.note}</p>
      <Settle key={place.id} place={place} onSettle={onSettle} busy={busy} />
    </>
  );
}

type WholePageProps = {
  query: Query;
  seats: Schemas["SeatChoice"][];
  busy: boolean;
  onAct: (body: PageAct) => void;
};

const USE: Record<string, string> = {
  again: t`Use this later one`,
  answered: t`Use the sheet`,
};
const ASIDE: Record<string, string> = {
  again: t`Keep the earlier one`,
  answered: t`Keep what was given on the device`,
};

function WholePage({ query, seats, busy, onAct }: WholePageProps) {
  const use = () => query.acts.includes("use") && onAct({ act: "use", sheet_page: 1 });
  const aside = () => onAct({ act: "aside", sheet_page: 1 });
  const type = () => query.acts.includes("type") && onAct({ act: "type", sheet_page: 1 });
  useKeys({ Enter: query.acts.includes("type") ? type : use, n: aside });
  return (
    <>
      <p className="text-ochre">{t`◐ This page ${sentence(query)}.`}</p>
      {query.differing.length > 0 && (
        <table className="mt-3 text-sm">
          <caption className="sr-only">{t`What differs`}</caption>
          <thead>
            <tr className="text-graphite">
              <th className="pe-4 text-start font-semibold">{t`Question`}</th>
              <th className="text-start font-semibold">{t`This page says`}</th>
            </tr>
          </thead>
          <tbody>
            {query.differing.map((place) => (
              <tr key={place.id}>
                <td className="pe-4">{place.label}</td>
                <td>
                  {place.read || t`nothing`}
                  {place.waiting && <span className="text-ochre">{t`, in doubt`}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {query.other && (
        <figure className="mt-3">
          <img src={query.other} alt={t`The page that counted before`} className="max-h-80 border border-hairline" />
          <figcaption className="mt-1 text-sm text-graphite">{t`what counted before`}</figcaption>
        </figure>
      )}
      {query.acts.includes("seat") && <WhoseIsIt seats={seats} busy={busy} onAct={onAct} />}
      <div className="mt-4 flex flex-wrap gap-3">
        {query.acts.includes("use") && (
          <Button variant="main" keyHint={t`Enter`} disabled={busy} onClick={use}>
            {USE[query.problem]}
          </Button>
        )}
        {query.acts.includes("type") && (
          <Button variant="main" keyHint={t`Enter`} disabled={busy} onClick={type}>{t`Type in what it says`}</Button>
        )}
        <Button keyHint="N" disabled={busy} onClick={aside}>
          {ASIDE[query.problem] ?? t`Lay this page aside`}
        </Button>
      </div>
    </>
  );
}

function sentence({ problem, words, differing }: Query): string {
  if (problem === "again") {
    const labels = differing.map((place) => place.label);
    return labels.length === 0
      ? words
      : t`${words} in ${plural(labels.length, { one: "question", other: "questions" })} ${listed(labels)}`;
  }
  if (problem === "answered") return t`is from a student who has answered on a device already`;
  return t`could not be placed: ${words}`;
}

function WhoseIsIt({ seats, busy, onAct }: Pick<WholePageProps, "seats" | "busy" | "onAct">) {
  const [seat, setSeat] = useState("");
  const [page, setPage] = useState(1);
  const chosen = seats.find(({ id }) => id === Number(seat));
  if (seats.length === 0)
    return <p className="mt-3">{t`Open this from the sheets of one sitting to say whose page it is.`}</p>;
  return (
    <form
      className="mt-4 max-w-sm"
      onSubmit={(event) => {
        event.preventDefault();
        if (chosen) onAct({ act: "seat", seat: chosen.id, sheet_page: page });
      }}
    >
      <Field label={t`Whose it is`}>
        {(id) => (
          <Choice id={id} value={seat} onChange={(event) => setSeat(event.target.value)}>
            <option value="">{t`Choose a student`}</option>
            {seats.map(({ id: value, desk, name }) => (
              <option key={value} value={value}>
                {desk} {name}
              </option>
            ))}
          </Choice>
        )}
      </Field>
      {(chosen?.pages ?? 0) > 1 && (
        <Field label={t`Which page of the sheet`}>
          {(id) => (
            <Choice id={id} value={page} onChange={(event) => setPage(Number(event.target.value))}>
              {Array.from({ length: chosen?.pages ?? 1 }, (_, number) => number + 1).map((number) => (
                <option key={number}>{number}</option>
              ))}
            </Choice>
          )}
        </Field>
      )}
      <Button variant="main" type="submit" disabled={busy || !chosen}>
        {busy ? t`Reading it…` : t`It is theirs`}
      </Button>
    </form>
  );
}

/** How many places wait, with the way to them; nothing where none do. */
export function ToSettle({ count, sitting }: { count: number; sitting: number }) {
  if (count === 0) return null;
  return (
    <p className="mb-5 flex flex-wrap items-center gap-3">
      <span className="text-ochre">{t`◐ ${plural(count, { one: "# place", other: "# places" })} to settle`}</span>
      <ButtonLink to={`/sittings/queries?sitting=${sitting}`} variant="main">{t`Settle them`}</ButtonLink>
    </p>
  );
}
