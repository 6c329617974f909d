import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useEffect, useRef } from "react";
import type { Schemas } from "../api/client";
import { OfferedList } from "../bank/offered";
import { BandSign } from "../ui/band-sign";
import { inWords } from "../ui/code-words";
import { InkedPicture, type Shown } from "../ui/inked-picture";
import { Player } from "../ui/player";
import { Rich } from "../ui/rich";
import { writeLit } from "../ui/stretches";
import { amount, listed, questionName } from "../ui/words";
import { Asked } from "./asked";

export type StudentResult = Schemas["StudentResult"];
type Question = StudentResult["questions"][number];

const marks = (value: number) => amount(value, value % 1 ? 1 : 0);

type PaperProps = {
  result: StudentResult;
  /** Where files are fetched: as they were handed in, with remarks in them, and pictures that were written on. */
  files: { handedIn: string; returned: string; work: string };
  /** Where the file of a material is fetched. */
  material: (id: string) => string;
  /** How a student asks about a mark, where this is their own page. */
  asking?: { ask: (item: string, reason: string) => Promise<unknown>; takeBack: (item: string) => Promise<unknown> };
};

/** A student's own result: what they have, and question by question what they gave, what it earned, and what to do. */
export function ResultPaper({ result, files, material, asking }: PaperProps) {
  return (
    <article>
      {result.total !== null && result.of !== null && (
        <p className="font-serif text-2xl">
          <Trans>
            <strong className="text-4xl">{marks(result.total)}</strong> of {marks(result.of)} marks
          </Trans>
        </p>
      )}
      {result.lost !== null && (
        <p className="text-graphite">{t`${marks(result.lost)} were taken off because it came in late.`}</p>
      )}
      {result.reason && <p className="text-graphite">{t`Set by your teacher: ${result.reason}`}</p>}
      {result.waiting > 0 && (
        <p className="mt-2 text-ochre">{t`◐ ${plural(result.waiting, { one: "One answer is", other: "# answers are" })} not marked yet, and not counted.`}</p>
      )}
      {result.comment && (
        <p className="mt-4 border-s-2 border-iris bg-iris-wash px-4 py-3">
          <span dir="auto" className="block">
            {result.comment}
          </span>
        </p>
      )}
      <Skills skills={result.skills} material={material} />
      {result.criteria.length > 0 && (
        <section aria-label={t`In several questions`} className="mt-4 text-base">
          {result.criteria.map((one) => (
            <p key={one.name}>
              <Trans>
                <strong className="[unicode-bidi:isolate]">{one.name}</strong>: {marks(one.points)} of {marks(one.of)}{" "}
                points, {plural(one.questions, { one: "in # question", other: "in # questions" })}
              </Trans>
            </p>
          ))}
        </section>
      )}
      <ol className="mt-6">
        {result.questions.map((question) => (
          <li key={question.number} className="border-t border-hairline py-4">
            <OneQuestion question={question} files={files} material={material} />
            <Asked question={question} until={result.ask_until} asking={asking} />
          </li>
        ))}
      </ol>
    </article>
  );
}

/** How far they are with each skill, what wants work first. */
function Skills({ skills, material }: { skills: StudentResult["skills"]; material: PaperProps["material"] }) {
  const next = skills.filter((skill) => skill.band === "not yet" || skill.band === "nearly");
  if (skills.length === 0) return null;
  return (
    <section aria-label={t`Skills`} className="mt-6">
      <table className="w-full border-collapse">
        <caption className="sr-only">{t`How far you are with each skill`}</caption>
        <tbody>
          {skills.map((skill) => (
            <tr key={skill.name} className="border-b border-hairline">
              <th scope="row" className="py-1.5 pe-3 text-start font-normal wrap-anywhere">
                <bdi>{skill.name}</bdi>
              </th>
              <td className="py-1.5 pe-3 whitespace-nowrap">
                {skill.band ? (
                  <BandSign band={skill.band} words />
                ) : (
                  <span className="text-graphite">{t`too little to say`}</span>
                )}
              </td>
              <td className="py-1.5 text-end whitespace-nowrap text-graphite">
                {skill.marks !== null && skill.of !== null && t`${marks(skill.marks)} of ${marks(skill.of)}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {next.length > 0 && (
        <p className="mt-3">
          <Trans>
            <strong>Next:</strong> work on {listed(next.slice(0, 2).map((skill) => skill.name))}.
          </Trans>
        </p>
      )}
      {next.some((one) => one.materials.length > 0) && (
        <div className="mt-3 text-base">
          {next
            .filter((one) => one.materials.length > 0)
            .map((one) => (
              <section key={one.name} className="mb-3">
                <h3 className="text-graphite">{t`To help with ${one.name}`}</h3>
                <OfferedList materials={one.materials} file={material} />
              </section>
            ))}
        </div>
      )}
    </section>
  );
}

const lettersOf = (html: string) => new DOMParser().parseFromString(html, "text/html").body.textContent ?? "";

/** What was written, with what its marker highlighted. */
function Lit({ html, remarks }: { html: string; remarks: Question["remarks"] }) {
  const holder = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const stretches = remarks.flatMap(({ place, says }) =>
      place.kind === "stretch" ? [{ start: place.start, end: place.end, name: says }] : [],
    );
    if (holder.current) writeLit(holder.current, html, stretches);
  }, [html, remarks]);
  return <div ref={holder} className="rich wrap-anywhere" />;
}

const LOOKS: Record<Question["verdict"], string> = {
  right: "text-teal",
  "partly right": "text-ochre",
  "not right": "text-clay",
  "nothing given": "text-graphite",
  "to be marked": "text-ochre",
  "left out": "text-graphite",
  "not chosen": "text-graphite",
};
const SIGNS: Record<Question["verdict"], string> = {
  right: "●",
  "partly right": "◐",
  "not right": "○",
  "nothing given": "–",
  "to be marked": "◐",
  "left out": "–",
  "not chosen": "–",
};

type OneProps = { question: Question; files: PaperProps["files"]; material: PaperProps["material"] };

function OneQuestion({ question, files, material }: OneProps) {
  const { gave, text } = question;
  return (
    <>
      <p className="mb-1 flex items-baseline justify-between gap-3 text-base">
        <span className="text-graphite">{questionName(question.label)}</span>
        <span className={LOOKS[question.verdict]}>
          {SIGNS[question.verdict]} {inWords(question.verdict)}
          {question.marks !== null && question.of !== null && (
            <strong className="ms-3 text-ink">{t`${marks(question.marks)} of ${marks(question.of)}`}</strong>
          )}
        </span>
      </p>
      {question.stimulus && (
        <details className="mb-2 text-base text-graphite">
          <summary>{t`What it is about`}</summary>
          <Rich html={question.stimulus} className="font-serif" />
        </details>
      )}
      <Rich html={question.stem} className="font-serif text-lg leading-snug" />
      {(gave || text || question.files.length > 0) && (
        <div className="mt-2 border-s-2 border-hairline ps-3">
          <p className="text-sm text-graphite">{question.watched ? t`Kept of what you showed` : t`You gave`}</p>
          {question.files.length > 0 ? (
            question.files.map((file) => (
              <div key={file.id} className="wrap-anywhere">
                {file.plays && (
                  <div className="mb-1 print:hidden">
                    <Player plays={file.plays} src={`${files.handedIn}/${file.id}/played`} name={file.name} />
                  </div>
                )}
                <a className="text-iris underline" href={`${files.handedIn}/${file.id}`}>
                  {file.name}
                </a>
              </div>
            ))
          ) : gave ? (
            <p dir="auto" className="wrap-anywhere">
              {gave}
            </p>
          ) : (
            <Lit html={text} remarks={question.remarks} />
          )}
        </div>
      )}
      {question.right && question.verdict !== "right" && (
        <p className="mt-2">
          <span className="text-graphite">{t`Right is`}</span> <strong dir="auto">{question.right}</strong>
        </p>
      )}
      {question.why && <Rich html={question.why} className="mt-1 text-base text-graphite" />}
      {question.moved !== 0 && (
        <p className="text-sm text-graphite">
          {question.moved > 0
            ? t`${amount(question.moved, 2)} of these marks were added, since answers marked by this marker were marked more strictly than agreed.`
            : t`${amount(-question.moved, 2)} marks were taken off, since answers marked by this marker were marked more mildly than agreed.`}
        </p>
      )}
      {question.levels.length > 0 && (
        <ul className="mt-2 text-base">
          {question.levels.map((level) => (
            <li key={level.criterion}>
              <strong>
                <bdi>{level.criterion}</bdi>
              </strong>
              {level.points !== null && level.of !== null && t` ${marks(level.points)} of ${marks(level.of)}`}
              {level.words && (
                <>
                  : <bdi>{level.words}</bdi>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
      {question.returned.map((file) => (
        <p key={file.id} className="mt-2">
          <a className="text-iris underline" href={`${files.returned}/${file.id}`}>
            {file.name}
          </a>{" "}
          <span className="text-graphite">{t`with your teacher’s remarks`}</span>
        </p>
      ))}
      <Pictures question={question} work={files.work} />
      <Noted question={question} />
      {question.comment && (
        <p className="mt-2 border-s-2 border-iris bg-iris-wash px-3 py-2 whitespace-pre-line">
          <span dir="auto" className="block">
            {question.comment}
          </span>
        </p>
      )}
      {question.next.map((one) => (
        <div key={`${one.follow_up} ${one.material?.id}`} className="mt-2 border-s-2 border-iris px-3 text-base">
          {one.follow_up && (
            <p>
              <span className="text-graphite">{t`To try next:`}</span> <bdi>{one.follow_up}</bdi>
            </p>
          )}
          {one.material && <OfferedList materials={[one.material]} file={material} />}
        </div>
      ))}
    </>
  );
}

/** The pages on which their marker wrote, as they were written on. */
function Pictures({ question, work }: { question: Question; work: string }) {
  const pages = new Map<string, { file: number; page: number; remarks: Shown[] }>();
  for (const [at, { place, says }] of question.remarks.entries()) {
    if (place.kind === "stretch") continue;
    const name = `${place.file}/${place.page}`;
    const here = pages.get(name) ?? { file: place.file, page: place.page, remarks: [] };
    here.remarks.push({ key: String(at), place, text: says });
    pages.set(name, here);
  }
  return [...pages].map(([name, { page, remarks }]) => (
    <figure key={name} className="mt-3 border border-hairline">
      <InkedPicture
        src={`${work}/${question.item}/${name}.jpg`}
        alt={
          page > 1
            ? t`Page ${page} of your answer, with what your teacher put on it`
            : t`Your answer, with what your teacher put on it`
        }
        remarks={remarks}
      />
    </figure>
  ));
}

/** What was said at a place, in words: by the letters it is about, or by its number on the picture. */
function Noted({ question }: { question: Question }) {
  const counts = new Map<string, number>();
  const lines = question.remarks.flatMap(({ place, says, criterion }, at) => {
    if (!says && !criterion) return [];
    if (place.kind === "stretch") {
      const words = lettersOf(question.text).slice(place.start, place.end);
      return [{ at, where: `“${words}”`, what: says || t`highlighted`, criterion }];
    }
    const page = `${place.file}/${place.page}`;
    if (says && place.kind !== "words") counts.set(page, (counts.get(page) ?? 0) + 1);
    if (!says) return place.kind === "sign" ? [{ at, where: SIGN_LETTERS[place.sign], what: "", criterion }] : [];
    return [{ at, where: place.kind === "area" ? String(counts.get(page)) : "", what: says, criterion }];
  });
  if (lines.length === 0) return null;
  return (
    <ul className="mt-2 text-base">
      {lines.map(({ at, where, what, criterion }) => (
        <li key={at} className="border-s-2 border-ochre ps-3 wrap-anywhere">
          {where && (
            <span className="text-graphite">
              <bdi>{where}</bdi>{" "}
            </span>
          )}
          <bdi>{what}</bdi>
          {criterion && (
            <span className="text-graphite">
              {what && " ("}
              <bdi>{criterion}</bdi>
              {what && ")"}
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}

const SIGN_LETTERS = { tick: "✓", cross: "✕", question: "?" };
