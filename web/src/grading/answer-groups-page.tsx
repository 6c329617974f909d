import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { answered, changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { KeyCap } from "../ui/key-cap";
import { arrows, useKeys } from "../ui/keys";
import { NoPage } from "../ui/no-page";
import { Rich } from "../ui/rich";
import { Empty, Page, Region, SplitPage } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { amount } from "../ui/words";

type Group = Schemas["AlikeLine"];
type Answer = Group["answers"][number];
type Judge = (answers: Answer[], share: number | null) => void;

/** Same answers together: on the left what was typed, judged once for all who typed it; on the right the question. */
export function SamePage() {
  const { sittingId: id, item = "" } = useParams();
  const path = { sitting_id: Number(id), item };
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const key = ["same", path.sitting_id, item];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/marking/{item}/same", { params: { path } })),
  });
  const judge = useMutation({
    mutationFn: ({ answers, share }: { answers: Answer[]; share: number | null }) =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/marking/{item}/same", {
          params: { path },
          body: { answers: answers.map(({ part, compared }) => ({ part, compared })), share },
        }),
      ),
    onSuccess: (page) => {
      answered(client, key, page);
      void changed(client, "key");
    },
  });
  const toKey = useMutation({
    mutationFn: () => read(api.POST("/api/v1/sittings/{sitting_id}/marking/{item}/same/to-key", { params: { path } })),
    onSuccess: ({ added }) => {
      void changed(client, "items");
      say(t`In the bank this question now accepts ${added.map((one) => `“${one}”`).join(", ")} too.`);
    },
  });
  const page = found.data;
  // A group stays chosen while its answers move: it is known by the first of them.
  const [chosen, setChosen] = useState("");
  const groups = page?.groups ?? [];
  const at = Math.max(
    0,
    groups.findIndex((group) => nameOf(group) === chosen),
  );
  const group = groups[at];
  const go = (to: number) => {
    const next = groups[Math.min(Math.max(to, 0), groups.length - 1)];
    if (next) setChosen(nameOf(next));
  };
  const give = (share: number | null) => {
    if (!group) return;
    const next = groups[at + 1];
    judge.mutate({ answers: group.answers, share });
    if (next) setChosen(nameOf(next));
  };
  useKeys({
    ...arrows({ down: () => go(at + 1), up: () => go(at - 1) }),
    ...Object.fromEntries(SHARES.map(({ cap, share }) => [cap.toLowerCase(), () => give(share)])),
  });
  useEffect(() => {
    document.getElementById("chosen-group")?.scrollIntoView({ block: "nearest" });
  });
  if (!page)
    return (
      <Page title={t`Same answers`}>
        <NoPage error={found.error} />
      </Page>
    );
  return (
    <Page
      title={t`Same answers`}
      of={`${page.title} · ${page.class_name}`}
      actions={
        <>
          <ButtonLink to={`/findings/${page.sitting}`}>{t`Findings`}</ButtonLink>
          <ButtonLink to="/marking">{t`Leave for now`}</ButtonLink>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`What was typed`, right: t`The question` }}
        left={
          <>
            <Problem error={judge.error} />
            {page.questions.length > 1 && (
              <nav aria-label={t`Questions`} className="mb-3 flex flex-wrap gap-3 text-sm">
                {page.questions.map((question) => (
                  <Button
                    key={question.ref}
                    variant="quiet"
                    aria-current={question.ref === item ? "page" : undefined}
                    className={question.ref === item ? "text-ink!" : ""}
                    onClick={() => navigate(`/marking/${page.sitting}/same/${question.ref}`)}
                  >
                    {t`Question ${question.number}`}
                  </Button>
                ))}
              </nav>
            )}
            {groups.length === 0 && (
              <Empty title={t`Nobody typed anything here.`}>{t`Then there is nothing to judge.`}</Empty>
            )}
            {groups.map((one, place) => (
              <GroupLines
                key={nameOf(one)}
                group={one}
                page={page}
                chosen={place === at}
                onChoose={() => setChosen(nameOf(one))}
                onJudge={(answers, share) => judge.mutate({ answers, share })}
              />
            ))}
            {groups.length > 0 && (
              <p className="mt-4 flex flex-wrap gap-x-4 gap-y-1 text-sm text-graphite">
                <span>
                  <KeyCap>↑</KeyCap>{" "}
                  <Trans>
                    <KeyCap>↓</KeyCap> group
                  </Trans>
                </span>
                {SHARES.map(({ cap, name }) => (
                  <span key={cap}>
                    <KeyCap>{cap}</KeyCap> {name}
                  </span>
                ))}
              </p>
            )}
          </>
        }
        right={
          <>
            <Region name={t`Question ${page.number}`} remark={plural(page.marks, { one: "# mark", other: "# marks" })}>
              <div className="pt-3 font-serif text-lg leading-snug">
                <Rich html={page.stem} />
                {page.text && <Rich html={page.text} className="mt-2" />}
              </div>
              <p className="mt-4">
                <span className="text-graphite">{t`The key:`}</span> <strong>{page.key}</strong>
              </p>
              <p className="mt-1 text-sm text-graphite">{page.compares}</p>
            </Region>
            {page.for_the_key > 0 && (
              <Region name={t`Into the key`}>
                <p className="my-3">
                  {t`${plural(page.for_the_key, { one: "# answer that you judged right is not in the key.", other: "# answers that you judged right are not in the key." })} Added in the bank, they are right the next time by themselves.`}
                </p>
                <Problem error={toKey.error} />
                <Button variant="main" disabled={toKey.isPending || toKey.isSuccess} onClick={() => toKey.mutate()}>
                  {toKey.isSuccess ? t`Added` : t`Add to the key in the bank`}
                </Button>
              </Region>
            )}
          </>
        }
      />
    </Page>
  );
}

const SHARES = [
  { cap: "R", share: 1, name: t`right` },
  { cap: "H", share: 0.5, name: t`half` },
  { cap: "W", share: 0, name: t`wrong` },
  { cap: "K", share: null, name: t`as the key has it` },
] as const;

const nameOf = (group: Group) => `${group.part} ${group.answers[0]?.compared}`;

type GroupProps = {
  group: Group;
  page: Schemas["SamePage"];
  chosen: boolean;
  onChoose: () => void;
  onJudge: Judge;
};

/** One answer with those that are nearly the same; each of them can be judged apart. */
function GroupLines({ group, page, chosen, onChoose, onJudge }: GroupProps) {
  return (
    <section
      id={chosen ? "chosen-group" : undefined}
      aria-label={group.answers[0]?.typed[0] ?? t`Answers`}
      className={`border-b border-hairline border-s-3 py-2 pe-2 ps-3 ${chosen ? "border-s-iris bg-iris-wash" : "border-s-transparent"}`}
    >
      {group.answers.map((answer, place) => (
        <div key={answer.compared} className={`flex items-baseline gap-3 ${place > 0 ? "ps-5" : ""}`}>
          <button type="button" className="min-w-0 flex-1 text-start" onClick={onChoose}>
            <span className={`wrap-anywhere ${place > 0 ? "" : "font-serif text-lg"}`}>{answer.typed[0]}</span>
            <span className="ms-2 text-sm text-graphite">
              {[
                group.part && place === 0 && t`gap ${group.part}`,
                answer.typed.length > 1 &&
                  t`also ${answer.typed
                    .slice(1)
                    .map((one) => `“${one}”`)
                    .join(", ")}`,
                who(answer, page.names),
              ]
                .filter(Boolean)
                .join(" · ")}
            </span>
          </button>
          <Share answer={answer} marks={group.marks} />
          {group.answers.length > 1 && (
            <span className="flex shrink-0 gap-1">
              {SHARES.filter(({ share }) => share !== answer.share && (share !== null || answer.judged)).map(
                ({ name, share }) => (
                  <Button
                    key={name}
                    variant="quiet"
                    aria-label={`${answer.typed[0]} alone: ${name}`}
                    onClick={() => onJudge([answer], share)}
                  >
                    {share === null ? t`key` : name}
                  </Button>
                ),
              )}
            </span>
          )}
        </div>
      ))}
      {chosen && (
        <p className="mt-1.5 flex flex-wrap gap-2">
          {SHARES.map(({ cap, name, share }) => (
            <Button key={cap} keyHint={cap} onClick={() => onJudge(group.answers, share)}>
              {group.answers.length > 1 ? t`All ${name}` : name.replace(/^./, (first) => first.toUpperCase())}
            </Button>
          ))}
        </p>
      )}
    </section>
  );
}

function Share({ answer, marks }: { answer: Answer; marks: number }) {
  const look = answer.share >= 1 ? "text-teal" : answer.share > 0 ? "text-ochre" : "text-clay";
  const sign = answer.share >= 1 ? "●" : answer.share > 0 ? "◐" : "○";
  const points = answer.share * marks;
  return (
    <span className={`shrink-0 text-sm whitespace-nowrap ${look}`}>
      {t`${sign} ${amount(points, points % 1 ? 1 : 0)} of ${amount(marks, marks % 1 ? 1 : 0)}`}
      {answer.judged && <span className="ms-1 text-graphite">{t`by you`}</span>}
    </span>
  );
}

const FEW = 4;

function who(answer: Answer, names: Record<string, string>): string {
  const known = answer.numbers.map((number) => names[number] ?? t`No. ${number}`);
  return known.length <= FEW ? known.join(", ") : t`${known.length} students`;
}
