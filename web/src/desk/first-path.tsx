import { plural, t } from "@lingui/core/macro";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { usePractice } from "../practice/use-practice";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Region } from "../ui/split-page";
import { ClassPicture, FindingPicture, QuestionPicture, SittingPicture, TestPicture } from "./station-pictures";

type Path = Schemas["FirstPath"];
type Station = {
  name: string;
  /** What one does there, and what it takes. */
  takes: string;
  /** What is there already; empty where the station is still to come. */
  done: string;
  to: string;
  act: string;
  picture: ReactNode;
};

function stationsOf(path: Path | null): Station[] {
  const { classes = 0, questions = 0, tests = 0, frozen = 0, sittings = 0 } = path ?? {};
  return [
    {
      name: t`Class`,
      takes: t`Paste the names, or bring in a list. Each student gets a desk number and a pass.`,
      done: classes ? plural(classes, { one: "# class", other: "# classes" }) : "",
      to: "/classes?new=1",
      act: t`Make a class`,
      picture: <ClassPicture />,
    },
    {
      name: t`Questions`,
      takes: t`Write beside a wrong answer what somebody thinks who gives it: that is what is found later.`,
      done: questions ? plural(questions, { one: "# question", other: "# questions" }) : "",
      to: "/bank?new=1",
      act: t`Write a question`,
      picture: <QuestionPicture />,
    },
    {
      name: t`Test`,
      takes: tests
        ? t`A test is begun. Freeze it when it is ready, so that its results stay explained.`
        : t`Choose from your questions, or take a ready-made test. Freeze it when it is ready.`,
      done: frozen ? plural(frozen, { one: "# test to give", other: "# tests to give" }) : "",
      to: tests ? "/tests" : "/tests?new=1",
      act: tests ? t`Go on with it` : t`Make a test`,
      picture: <TestPicture />,
    },
    {
      name: t`Sitting`,
      takes: t`Online, asked together in the room, or on paper sheets that are scanned.`,
      done: sittings ? plural(sittings, { one: "# sitting", other: "# sittings" }) : "",
      to: "/sittings?new=1",
      act: t`Plan a sitting`,
      picture: <SittingPicture />,
    },
    {
      name: t`Findings`,
      takes: t`They grow while the class hands in: which questions were misunderstood, and by whom.`,
      done: "",
      to: "/sittings",
      act: t`Go to the sittings`,
      picture: <FindingPicture />,
    },
  ];
}

/** The desk of somebody who has nothing on it yet: the way from a class to a finding, one action at each station. */
export function FirstPath({ path }: { path: Path | null }) {
  const stations = stationsOf(path);
  const next = stations.findIndex((station) => !station.done);
  return (
    <div className="px-6 py-5 lg:overflow-y-auto">
      <h2 className="font-serif text-2xl font-semibold">{t`From a class to its first finding`}</h2>
      <p className="mb-5 max-w-2xl text-graphite">{t`Five stations. The next one is marked; you can go back to any of them.`}</p>
      <ol className="grid grid-cols-1 gap-4 sm:grid-cols-2 lg:grid-cols-5">
        {stations.map((station, place) => (
          <li
            key={station.to + station.name}
            aria-current={place === next ? "step" : undefined}
            className={`flex flex-col border p-3.5 ${place === next ? "border-ink" : "border-hairline"}`}
          >
            <div aria-hidden="true" className="mb-3 border border-hairline bg-page-2 text-graphite">
              {station.picture}
            </div>
            <h3 className="font-serif text-lg font-semibold">
              {place + 1} · {station.name}
            </h3>
            <p className="mb-3 flex-1 text-sm text-graphite">{station.takes}</p>
            {station.done && <p className="mb-2 text-sm text-teal">● {station.done}</p>}
            {(place < 4 || next === 4) && (
              <ButtonLink to={station.to} variant={place === next ? "main" : "plain"}>
                {station.act}
              </ButtonLink>
            )}
          </li>
        ))}
      </ol>
      <TryIt />
    </div>
  );
}

/** The same, short, beside what is on the desk already. */
export function FirstPathBeside({ path }: { path: Path }) {
  const stations = stationsOf(path);
  const next = stations.findIndex((station) => !station.done);
  return (
    <>
      <Region name={t`The way to a finding`}>
        <ol>
          {stations.map((station, place) => (
            <li
              key={station.to + station.name}
              aria-current={place === next ? "step" : undefined}
              className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-hairline py-2.5"
            >
              <span className={`flex-1 ${place === next ? "font-semibold" : ""}`}>
                {place + 1} · {station.name}
              </span>
              {station.done && <span className="text-sm text-teal">● {station.done}</span>}
              {place === next && (
                <ButtonLink to={station.to} variant="main">
                  {station.act}
                </ButtonLink>
              )}
            </li>
          ))}
        </ol>
      </Region>
      <TryIt />
    </>
  );
}

function TryIt() {
  const { run, start } = usePractice();
  if (!run || run.class_id) return null;
  return (
    <section className="mt-7 max-w-2xl" aria-label={t`Try it first`}>
      <h2 className="font-serif text-lg font-semibold">{t`Try it first, with an invented class`}</h2>
      <p className="mb-3 text-graphite">{t`24 invented students sit a ready-made test of six questions. You open it, they answer, you read what they misunderstood. Everything of it goes again when you end it.`}</p>
      <Button disabled={start.isPending} onClick={() => start.mutate()}>
        {t`Begin a practice`}
      </Button>
      <Problem error={start.error} />
    </section>
  );
}
