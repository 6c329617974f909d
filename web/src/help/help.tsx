import { t } from "@lingui/core/macro";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { BesideThePage } from "../ui/dialog";
import { TextInput } from "../ui/field";
import { folded } from "../ui/folded";
import { KeyCap } from "../ui/key-cap";
import { setSingleKeys, singleKeys } from "../ui/keys";
import { Region } from "../ui/split-page";
import { FIGURES, type Figure, type Shown } from "./figures";
import { HELP, type HelpPage, helpOf } from "./pages";

const EVERYWHERE: [string, string][] = [
  ["Ctrl K", t`find anything: what you want to do, a class, a student, a question`],
  ["?", t`this help`],
  ["Esc", t`close what is open`],
];

/** Help on the page one is on: what it is for, how the commonest things are done, its keys and figures; or on all. */
export function Help({ path, onClose }: { path: string; onClose: () => void }) {
  const here = helpOf(path);
  const [typed, setTyped] = useState("");
  const [every, setEvery] = useState(here === undefined);
  const shown = useShown(path);
  const words = folded(typed).split(/\s+/).filter(Boolean);
  const wanted = words.length ? HELP.filter((page) => holds(page, words)) : every ? HELP : here ? [here] : HELP;
  return (
    <BesideThePage onClose={onClose} title={wanted.length === 1 && wanted[0] ? wanted[0].name : t`Help`}>
      <div className="mb-3 flex flex-wrap gap-3" data-screen-only>
        <TextInput
          type="search"
          className="min-w-48 flex-1"
          aria-label={t`Search the help`}
          placeholder={t`Search the help`}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        {here && !typed && <Button onClick={() => setEvery(!every)}>{every ? t`Only this page` : t`All pages`}</Button>}
        <Button onClick={() => print()}>{t`Print`}</Button>
      </div>
      {wanted.length === 0 && <p className="py-3 text-graphite">{t`Nothing in the help holds these words.`}</p>}
      {wanted.map((page) => (
        <OnPage key={page.name} page={page} shown={page === here ? shown : undefined} named={wanted.length > 1} />
      ))}
      {!typed && (
        <Region name={t`Keys everywhere`}>
          <Keys keys={EVERYWHERE} />
          <SingleKeys />
        </Region>
      )}
    </BesideThePage>
  );
}

function holds(page: HelpPage, words: string[]): boolean {
  const figures = (page.figures ?? []).flatMap((name) => [FIGURES[name].name, FIGURES[name].means]);
  const text = folded([page.name, page.about, ...page.ways, ...figures].join(" "));
  return words.every((word) => text.includes(word));
}

function OnPage({ page, shown, named }: { page: HelpPage; shown: Shown | undefined; named: boolean }) {
  return (
    <section className="mb-5">
      {named && <h3 className="mt-4 font-serif text-lg font-semibold">{page.name}</h3>}
      <p className="max-w-prose">{page.about}</p>
      <ul className="mt-2 list-disc ps-5">
        {page.ways.map((way) => (
          <li key={way} className="max-w-prose py-0.5">
            {way}
          </li>
        ))}
      </ul>
      {page.keys && <Keys keys={page.keys} />}
      {page.figures && (
        <dl className="mt-3">
          {page.figures.map((name) => (
            <OneFigure key={name} figure={FIGURES[name]} shown={shown} />
          ))}
        </dl>
      )}
    </section>
  );
}

function OneFigure({ figure, shown }: { figure: Figure; shown: Shown | undefined }) {
  const here = shown && figure.here?.(shown);
  return (
    <div className="border-t border-hairline py-1.5">
      <dt className="font-semibold">{figure.name}</dt>
      <dd>
        {figure.means}
        {here && <span className="text-iris"> {here}</span>}
        <span className="block text-sm text-graphite">{figure.made}</span>
      </dd>
    </div>
  );
}

function Keys({ keys }: { keys: [string, string][] }) {
  return (
    <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
      {keys.map(([key, does]) => (
        <div key={key} className="contents">
          <dt>
            <KeyCap>{key}</KeyCap>
          </dt>
          <dd>{does}</dd>
        </div>
      ))}
    </dl>
  );
}

/** For whoever dictates, or presses a key by accident: letters and digits then only write. */
function SingleKeys() {
  const [on, setOn] = useState(singleKeys);
  const choose = (to: boolean) => {
    setSingleKeys(to);
    setOn(to);
  };
  return (
    <div className="mt-3" data-screen-only>
      <Checkbox label={t`Single letters, digits and signs do things`} checked={on} onChange={choose} />
      <p className="text-sm text-graphite">{t`In this browser. Everything stays in reach by Tab, Enter and Find.`}</p>
    </div>
  );
}

/** The figures of the findings before one, as they were read last: examples speak of them. */
function useShown(path: string): Shown | undefined {
  const client = useQueryClient();
  const sitting = Number(/^\/findings\/(\d+)/.exec(path)?.[1]);
  if (!sitting) return undefined;
  const read = client.getQueriesData<Schemas["FindingsPage"]>({ queryKey: ["findings", sitting] });
  return read.find(([, page]) => page?.body)?.[1]?.body?.test;
}
