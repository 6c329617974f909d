import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { ButtonLink } from "../../ui/button";
import { Disclosure } from "../../ui/disclosure";
import { Line, Region } from "../../ui/split-page";
import { questionInWords, questionName } from "../../ui/words";
import { Chosen } from "../paper/chosen";
import { Sure } from "../sure";

type Flag = Schemas["FlagNote"];
type Idea = Schemas["IdeaNote"];
type Entry = { flag: Flag } | { idea: Idea };
type Props = {
  sittingId: number;
  flags: Flag[];
  ideas: Idea[];
  students: Schemas["FindingsStudent"][];
  onChoose: (number: number) => void;
};

const AT_ONCE = 5;

/** What to do about this sitting, most pressing first: a sentence, how sure it is, what it rests on, and the act. */
export function WhatToDo({ flags, ideas, ...rest }: Props) {
  // What an idea explains is told once, under the idea.
  const urgent: Entry[] = flags.filter((flag) => flag.urgent && !flag.idea).map((flag) => ({ flag }));
  const entries = [...urgent, ...ideas.map((idea) => ({ idea }))].sort((a, b) => worth(b) - worth(a));
  const polish = flags.filter((flag) => !flag.urgent);
  const more = entries.slice(AT_ONCE);
  return (
    <>
      {entries.length > 0 && (
        <Region name={t`What to do`}>
          {entries.slice(0, AT_ONCE).map((entry) => (
            <EntryLine key={keyOf(entry)} entry={entry} {...rest} />
          ))}
          {more.length > 0 && (
            <Disclosure name={t`${more.length} more, less pressing`}>
              {more.map((entry) => (
                <EntryLine key={keyOf(entry)} entry={entry} {...rest} />
              ))}
            </Disclosure>
          )}
          <HowSure />
        </Region>
      )}
      {polish.length > 0 && (
        <Region name={t`Before their next use`}>
          {polish.map((flag) => (
            <Line key={keyOf({ flag })} margin={questionName(flag.label)}>
              <button type="button" className="text-start hover:underline" onClick={() => rest.onChoose(flag.number)}>
                {flag.heading}
              </button>
            </Line>
          ))}
        </Region>
      )}
    </>
  );
}

const worth = (entry: Entry) => ("flag" in entry ? entry.flag.worth : entry.idea.worth);
const keyOf = (entry: Entry) =>
  "flag" in entry ? `${entry.flag.number} ${entry.flag.flag} ${entry.flag.options.join()}` : entry.idea.idea;

type EntryProps = Omit<Props, "flags" | "ideas"> & { entry: Entry };

function EntryLine({ entry, ...rest }: EntryProps) {
  return "flag" in entry ? <QuestionLine flag={entry.flag} {...rest} /> : <IdeaLine idea={entry.idea} {...rest} />;
}

function QuestionLine({ flag, sittingId, onChoose }: Omit<EntryProps, "entry"> & { flag: Flag }) {
  const first = flag.rivals[0];
  return (
    <Line
      margin={questionName(flag.label)}
      action={
        flag.flag === "raters disagree" ? (
          <ButtonLink to={`/marking/${sittingId}/second`}>{t`The marks`}</ButtonLink>
        ) : undefined
      }
    >
      <Heading onChoose={() => onChoose(flag.number)}>{flag.heading}</Heading>
      <p className="text-sm">
        <Sure of={flag} /> · {flag.says}
        {first && (
          <span className="text-graphite">
            {" "}
            {t`Or else ${first.says}: ${Math.max(1, Math.round(100 * first.probability))} in 100.`}
          </span>
        )}
      </p>
      <p className="text-sm text-graphite">{flag.advice}</p>
    </Line>
  );
}

/** An idea, the questions in which it shows, and who holds it. */
function IdeaLine({ idea, sittingId, students, onChoose }: Omit<EntryProps, "entry"> & { idea: Idea }) {
  const shows = idea.signs.filter((sign) => sign.works);
  const not = idea.signs.filter((sign) => !sign.works);
  const first = shows[0] ?? idea.signs[0];
  return (
    <Line
      margin={
        shows.length === 1
          ? t`Question ${shows[0]?.label ?? ""}`
          : plural(shows.length, { one: "# question", other: "# questions" })
      }
    >
      <Heading onChoose={() => first && onChoose(first.number)}>{idea.heading}</Heading>
      <p className="text-sm">
        <Sure of={idea} /> {t`· It shows in`}{" "}
        {shows.map((sign, at) => (
          <span key={`${sign.number} ${sign.option}`}>
            {at > 0 && (at === shows.length - 1 ? t` and ` : ", ")}
            <button type="button" className="underline underline-offset-2" onClick={() => onChoose(sign.number)}>
              {questionInWords(sign.label)}
            </button>{" "}
            ({sign.chosen} {sign.option.length <= 2 ? t`chose ${sign.option}` : t`gave ${sign.option}`})
          </span>
        ))}
        .
        {not.length > 0 && (
          <span className="text-graphite">
            {" "}
            {t`${not.map((sign) => t`Question ${sign.label}, ${sign.option}`).join("; ")}: answered as if it were not at work there.`}
          </span>
        )}
      </p>
      {idea.elsewhere.map((entry) => (
        <p key={`${entry.sitting} ${entry.again}`} className="text-sm">
          {entry.says}
          {!entry.again && (
            <>
              {" "}
              <Link
                to={`/findings/${entry.sitting}`}
                className="text-graphite underline underline-offset-2"
              >{t`look there`}</Link>
            </>
          )}
        </p>
      ))}
      <p className="text-sm text-graphite">{idea.advice}</p>
      <Disclosure name={t`Who: ${idea.holders.length} more likely than not`}>
        <Chosen
          name={t`Surest first`}
          sittingId={sittingId}
          wanted={{ ref: "", answer: null, idea: idea.idea }}
          groupName={idea.idea}
          seats={idea.holders.map((holder) => holder.seat)}
          students={students}
        />
      </Disclosure>
    </Line>
  );
}

function Heading({ onChoose, children }: { onChoose: () => void; children: string }) {
  return (
    <button
      type="button"
      className="text-start font-serif text-base leading-snug font-semibold hover:underline"
      onClick={onChoose}
    >
      {children}
    </button>
  );
}

/** What the three words promise, as natural frequencies. */
function HowSure() {
  return (
    <Disclosure name={t`How sure?`}>
      <p className="max-w-prose py-1 text-sm">
        <Trans>
          Every finding comes with the chance that it is right. Of ten findings called <em>possible</em>, about six
          prove right; of ten called <em>probable</em>, eight or nine; of those called <em>almost certain</em>, nearly
          all. That was counted on classes whose truth was known. The answers of one class cannot say more: look at the
          question before you act on it.
        </Trans>
      </p>
    </Disclosure>
  );
}
