import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { api, read, type Schemas } from "../../api/client";
import { UsesTable } from "../../bank/uses-table";
import { Settle } from "../../grading/key-decision";
import { AskInRoom } from "../../room/ask-in-room";
import { Button, ButtonLink } from "../../ui/button";
import { type Trace, TraceChart } from "../../ui/charts/trace-chart";
import { ValueChart } from "../../ui/charts/value-chart";
import { inWords } from "../../ui/code-words";
import { Hint } from "../../ui/hint";
import { KeyCap } from "../../ui/key-cap";
import { Chip, Region } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { amount, figure, percent, questionName } from "../../ui/words";
import { FlagSign } from "../flag-sign";
import { namesOf } from "../names-of";
import { Chosen } from "../paper/chosen";
import { LevelSpread } from "../paper/level-spread";
import { Sure } from "../sure";
import { TimeOnIt } from "../time/time";
import { readScope, toggled, useScope } from "../use-analysis-filter";
import { AskNext } from "./ask-next";
import { asideOf, SetAside } from "./set-aside";

type Props = {
  sittingId: number;
  testId: number;
  question: Schemas["ReadQuestion"];
  flags: Schemas["FlagNote"][];
  setAside: Schemas["FlagNote"][];
  dismissed: Schemas["DismissedLine"][];
  students: Schemas["FindingsStudent"][];
  /** Refs of all questions of the test. */
  asked: string[];
  looks: number[];
  onNext: () => void;
  reasons: Record<string, string>;
};

/** One question: the sentence, who chooses what from weakest to strongest, the option table, and who chose it. */
export function Question(props: Props) {
  const { sittingId, testId, question, flags, setAside, dismissed, students, asked, looks, onNext, reasons } = props;
  const { scope, set } = useScope();
  const first = flags[0];
  const elsewhere = question.kind === "marks_only";
  const place = looks.indexOf(question.number);
  // What the eye should go to: the option the finding is about, or else the wrong one drawn most.
  const lit =
    first?.options[0] ??
    [...question.options].filter((o) => !o.key).sort((a, b) => b.seats.length - a.seats.length)[0]?.option;
  const notCounted = students.filter((student) => student.total === null);
  const counted = students.length - notCounted.length - question.not_taken.length;
  return (
    <>
      <div className="mb-2 flex items-baseline justify-between gap-3 text-sm text-graphite">
        <p className="text-xs font-semibold tracking-[0.09em] uppercase">
          {questionName(question.label)}
          {place === 0 && t` · look at this first`}
        </p>
        {looks.length > 0 && (
          <p className="shrink-0">
            {place >= 0 ? t`${place + 1} of ${looks.length} to look at` : t`${looks.length} to look at`}{" "}
            <button type="button" onClick={onNext}>
              <Trans>
                <KeyCap>J</KeyCap> next
              </Trans>
            </button>
          </p>
        )}
      </div>
      {first ? (
        <>
          <h2 className="font-serif text-2xl leading-tight font-semibold">{first.heading}</h2>
          <p className="mt-1.5 mb-4">
            <Sure of={first} /> · {first.says} <span className="text-graphite">{first.advice}</span>{" "}
            <SetAside sittingId={sittingId} flag={first} aside={undefined} />
          </p>
          <MayBe explanations={first.rivals} start={t`Or else `} />
        </>
      ) : (
        <>
          <h2 className="font-serif text-2xl leading-tight font-semibold">{quietHeading(question, counted)}</h2>
          <p className="mt-1.5 mb-4">
            {question.figures
              ? t`${question.quiet} It ${question.d_words}.`
              : question.asked
                ? t`A person marks it. Its figures come when the answers are marked.`
                : question.left_out
                  ? t`These figures are seen without it.`
                  : question.waived
                    ? t`It is waived in this sitting, and the figures leave it out.`
                    : t`The lesson did not come to it, and the figures leave it out.`}
          </p>
          <MayBe explanations={question.may_be} start={t`Perhaps `} />
        </>
      )}
      <ul className="mb-5 text-sm">
        {flags.slice(1).map((flag) => (
          <li key={flag.flag + flag.options.join()} className="mb-1">
            <strong>
              <FlagSign flag={flag} />
            </strong>{" "}
            · {flag.says}{" "}
            <span className="text-graphite">
              (<Sure of={flag} />)
            </span>{" "}
            <SetAside sittingId={sittingId} flag={flag} aside={undefined} />
          </li>
        ))}
        {setAside.map((flag) => (
          <li key={flag.flag + flag.options.join()} className="mb-1 text-graphite">
            <s>{flag.short}</s> · <SetAside sittingId={sittingId} flag={flag} aside={asideOf(flag, dismissed)} />
          </li>
        ))}
      </ul>
      {!elsewhere && (question.figures || question.waived) && (
        <Settle key={question.ref} sittingId={sittingId} question={question} />
      )}
      {question.options.length > 0 && (
        <Region name={t`Who chooses what, from weakest to strongest`}>
          <TraceChart
            title={t`Question ${question.label}, share choosing each option`}
            traces={question.options.map((option, at) => traceOf(question, option, at, lit))}
          />
        </Region>
      )}
      {question.spread && question.spread.values.length > 0 && (
        <Region name={t`The numbers given`}>
          <ValueChart
            values={question.spread.values}
            ideas={question.spread.ideas}
            answer={question.spread.key}
            unit={question.spread.unit}
          />
        </Region>
      )}
      <OftenGiven sittingId={sittingId} question={question} students={students} />
      <LevelSpread criteria={question.criteria} students={students} />
      {question.figures && question.options.length > 0 && (
        <OptionTable number={question.number} options={question.figures.options} lit={lit} />
      )}
      {question.figures && <ItemFigures figures={question.figures} words={question.d_words} reasons={reasons} />}
      <TimeOnIt sittingId={sittingId} question={question.ref} />
      {question.options
        .filter((option) => option.option === lit || option.key)
        .sort((a, b) => Number(a.key) - Number(b.key))
        .map((option) => (
          <Chosen
            key={option.option}
            name={`${option.key ? t`Chose the key,` : t`Chose`} ${inWords(option.option)}`}
            sittingId={sittingId}
            wanted={{ ref: question.ref, answer: option.option, idea: "" }}
            groupName={option.idea_note || t`Question ${question.label}, ${inWords(option.option)}`}
            seats={option.seats}
            students={students}
          />
        ))}
      {question.earned.length > 0 && (
        <Region name={t`Who earned what, least first`}>
          <Table
            caption={t`Students by the mark they earned`}
            heads={[
              { label: t({ message: "Mark", context: "what was given, head of a column" }), right: true },
              { label: t`Students` },
            ]}
          >
            {question.earned.map((one) => (
              <Row key={one.points}>
                <Cell right>
                  <strong>{one.points}</strong>
                </Cell>
                <Cell>
                  <span className="font-serif">{namesOf(students, one.seats).join(", ")}</span>
                </Cell>
              </Row>
            ))}
          </Table>
        </Region>
      )}
      {question.not_given.length > 0 && (
        <Chosen
          name={elsewhere ? t`No mark` : t`Gave no answer`}
          sittingId={sittingId}
          wanted={{ ref: question.ref, answer: null, idea: "" }}
          groupName={t`Question ${question.label}, no answer`}
          seats={question.not_given}
          students={students}
        />
      )}
      {question.not_taken.length > 0 && (
        <Chips
          name={t`Did not take it: ${question.not_taken.length}`}
          students={students.filter((student) => question.not_taken.includes(student.seat))}
        />
      )}
      {notCounted.length > 0 && (
        <Chips name={t`Not counted, or did not sit it: ${notCounted.length}`} students={notCounted} />
      )}
      {!elsewhere && <Earlier itemId={question.ref} />}
      {!elsewhere && (first?.urgent || question.follow_up) && (
        <AskNext sittingId={sittingId} question={question} asked={asked} />
      )}
      {question.follow_up && (
        <Region name={t`To ask again`}>
          <p className="py-2 font-serif">{question.follow_up}</p>
        </Region>
      )}
      <div className="flex flex-wrap gap-3" data-screen-only>
        {elsewhere ? (
          <>
            <ButtonLink to={`/sittings/${sittingId}`} variant="main">{t`The marks`}</ButtonLink>
            <ButtonLink to={`/tests/${testId}`}>{t`What they are for`}</ButtonLink>
          </>
        ) : (
          <>
            <ButtonLink to={`/bank/${question.ref}?beside=${sittingId}`} variant="main">
              {flags.length > 0 ? t`Reword it` : t`Open the question`}
            </ButtonLink>
            <AskInRoom what={{ item: question.ref }} label={t`Ask it again in the room`} />
            {flags.some((flag) => flag.flag === "raters disagree") && (
              <ButtonLink to={`/marking/${sittingId}/second`}>{t`How far the markers agree`}</ButtonLink>
            )}
          </>
        )}
        {(question.figures || question.left_out) && (
          <Button onClick={() => set({ ...scope, without: toggled(scope.without, question.ref) })}>
            {question.left_out ? t`Take it in again` : t`See the figures without it`}
          </Button>
        )}
      </div>
    </>
  );
}

/** Wrong answers that several typed and nobody has named: what do they think? */
function OftenGiven({
  sittingId,
  question,
  students,
}: {
  sittingId: number;
  question: Schemas["ReadQuestion"];
  students: Schemas["FindingsStudent"][];
}) {
  if (question.often.length === 0) return null;
  return (
    <Region
      name={t`Typed by several, and no idea is named`}
      remark={
        <Link
          className="underline underline-offset-2"
          to={`/bank/${question.ref}?beside=${sittingId}`}
        >{t`Name what they think`}</Link>
      }
    >
      <Table caption={t`Wrong answers that several typed`} heads={[{ label: t`Answer` }, { label: t`Students` }]}>
        {question.often.map((often) => (
          <Row key={often.typed}>
            <Cell>
              <strong>{often.typed}</strong>
            </Cell>
            <Cell>
              {often.seats.length}: <span className="font-serif">{namesOf(students, often.seats).join(", ")}</span>
            </Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}

/** What may explain the answers, likeliest first. */
function MayBe({ explanations, start }: { explanations: Schemas["RivalNote"][]; start: string }) {
  if (explanations.length === 0) return null;
  return (
    <ul className="-mt-2 mb-4 text-sm text-graphite">
      {explanations.map((entry) => (
        <li key={entry.says}>
          {t`${start}${entry.says}: ${Math.min(99, Math.round(100 * entry.probability))} in 100`}
        </li>
      ))}
    </ul>
  );
}

function Chips({ name, students }: { name: string; students: { seat: number; name: string }[] }) {
  return (
    <Region name={name}>
      <div className="flex flex-wrap gap-1.5 pt-2">
        {students.map((student) => (
          <Chip key={student.seat}>{student.name}</Chip>
        ))}
      </div>
    </Region>
  );
}

/** The question in all its sittings, where it was in more than this one. */
function Earlier({ itemId }: { itemId: string }) {
  const found = useQuery({
    queryKey: ["item-history", itemId],
    queryFn: () => read(api.GET("/api/v1/items/{item_id}/history", { params: { path: { item_id: itemId } } })),
    // A question of a colleague's test is not in one's own bank.
    retry: false,
  });
  const uses = found.data?.uses ?? [];
  if (uses.length < 2) return null;
  return (
    <Region name={t`In all its sittings`}>
      <UsesTable uses={uses} />
    </Region>
  );
}

function quietHeading(question: Schemas["ReadQuestion"], counted: number): string {
  if (!question.figures) return t`${counted - question.not_given.length} of ${counted} gave an answer.`;
  if (question.options.length === 0) return t`The class earned ${percent(question.figures.p)} of its marks.`;
  const right = question.options.filter((option) => option.key).reduce((sum, option) => sum + option.seats.length, 0);
  return t`${right} of ${counted} got it right.`;
}

function traceOf(
  question: Schemas["ReadQuestion"],
  option: Schemas["PaperOption"],
  at: number,
  lit: string | undefined,
): Trace {
  const look = option.key ? "key" : option.option === lit ? "lit" : "other";
  const words = option.key
    ? t` key`
    : look === "lit" && option.option.length <= 2
      ? ` ${option.text.split(" ").slice(0, 3).join(" ").slice(0, 18)}`
      : "";
  return {
    name: option.option,
    label: `${inWords(option.option)}${words}`,
    look,
    points: question.traces[at]?.points ?? [],
  };
}

type TableProps = { number: number; options: Schemas["OptionFigures"][]; lit: string | undefined };

function OptionTable({ number, options, lit }: TableProps) {
  const { share } = readScope(useSearchParams()[0]);
  const heads = [t`Chose`, t`Share`, t`Upper ${share}%`, t`Lower ${share}%`, t`Mean total`, t`r with rest`].map(
    (label) => ({
      label,
      right: true,
    }),
  );
  return (
    <div className="mb-4 overflow-x-auto">
      <Table caption={t`Options of question ${number}`} heads={[{ label: t`Option` }, ...heads]}>
        {options.map((option) => (
          <Row key={option.option} selected={option.option === lit}>
            <Cell>
              <strong className={option.key ? "text-teal" : option.option === lit ? "text-plum" : ""}>
                {inWords(option.option)}
              </strong>
              {option.key && t` key`}
            </Cell>
            <Cell right>{option.count}</Cell>
            <Cell right>{percent(option.share)}</Cell>
            <Cell right>{percent(option.upper)}</Cell>
            <Cell right>{percent(option.lower)}</Cell>
            <Cell right>{amount(option.mean_total)}</Cell>
            <Cell right>{figure(option.r_rest)}</Cell>
          </Row>
        ))}
      </Table>
    </div>
  );
}

function ItemFigures({
  figures,
  words,
  reasons,
}: {
  figures: Schemas["ItemFigures"];
  words: string;
  reasons: Record<string, string>;
}) {
  const path = `items.${figures.id}`;
  const { share } = readScope(useSearchParams()[0]);
  const lines = [
    [
      "p",
      t`${figure(figures.p)} (${figure(figures.p_low)} to ${figure(figures.p_high)})`,
      t`Difficulty: the share of its marks that the class earned, with a 95% interval.`,
    ],
    [
      t`r rest`,
      figure(figures.r_rest),
      reasons[`${path}.r_rest`] ??
        t`How the question goes with the total of all the others: the figure to trust first.`,
    ],
    [
      t`r total`,
      figure(figures.r_total),
      reasons[`${path}.r_total`] ?? t`How the question goes with the total, itself included; always a little too kind.`,
    ],
    [
      "D",
      figure(figures.d_rest),
      reasons[`${path}.d_rest`] ??
        t`Share right among those strongest on the other questions (${share}%) minus the weakest. It ${words}.`,
    ],
    [
      t`α without`,
      figure(figures.alpha_without),
      reasons[`${path}.alpha_without`] ?? t`Reliability of the test if this question were left out.`,
    ],
  ] as const;
  return (
    <p className="mb-5 flex flex-wrap gap-x-4 text-sm text-graphite">
      {lines.map(([name, value, says]) => (
        <Hint key={name} says={says}>
          {name} <strong className="text-ink">{value}</strong>
        </Hint>
      ))}
      {(figures.omitted > 0 || figures.not_reached > 0) && (
        <span>{t`left out ${figures.omitted}, not reached ${figures.not_reached}`}</span>
      )}
    </p>
  );
}
