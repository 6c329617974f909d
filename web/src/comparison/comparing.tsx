import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { answered, changed } from "../api/changes";
import { api, once, read, type Schemas } from "../api/client";
import { newId } from "../api/new-id";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { arrows, useKeys } from "../ui/keys";
import { NoPage } from "../ui/no-page";
import { ProgressBar } from "../ui/progress-bar";
import { Rich } from "../ui/rich";
import { Empty, Page } from "../ui/split-page";
import { PieceWork } from "./piece-work";

type Pair = Schemas["PairPage"];

/** Two pieces of work beside each other, and one key that says which is better. */
export function Comparing() {
  const id = Number(useParams().comparisonId);
  const params = { path: { comparison_id: id } };
  const client = useQueryClient();
  const key = ["comparison", "pair", id];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.POST("/api/v1/comparisons/{comparison_id}/pair", { params })),
    refetchOnMount: "always",
  });
  const brought = (pair: Pair) => {
    answered(client, key, pair);
    void changed(client, "comparison", "comparison");
  };
  const judge = useMutation({
    mutationFn: (body: Schemas["JudgementBody"] & { id: string }) =>
      read(
        api.PUT("/api/v1/comparisons/{comparison_id}/pair", {
          params,
          body: { better: body.better, worse: body.worse },
          headers: once(body.id),
        }),
      ),
    onSuccess: brought,
    onError: () => client.invalidateQueries({ queryKey: key }),
  });
  const back = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/comparisons/{comparison_id}/pair", { params })),
    onSuccess: brought,
  });
  const pair = found.data;
  const say = (better: "left" | "right") => {
    const worse = better === "left" ? "right" : "left";
    if (judge.isPending || back.isPending || !pair?.[better] || !pair[worse]) return;
    judge.mutate({ better: pair[better].number, worse: pair[worse].number, id: newId() });
  };
  const takeBack = () => {
    if (pair && pair.mine > 0 && !back.isPending) back.mutate();
  };
  useKeys({
    ...arrows({ left: () => say("left"), right: () => say("right") }),
    ...Object.fromEntries([["Backspace", takeBack]]),
  });
  if (!pair)
    return (
      <Page title={t`Comparing`}>
        <NoPage error={found.error} />
      </Page>
    );
  return (
    <Page
      title={pair.question}
      facts={pair.title}
      actions={
        <>
          <span className="text-sm text-graphite">
            {t`${plural(pair.mine, { one: "# pair", other: "# pairs" })} by you · ${pair.done} of ${pair.wanted} in all`}
          </span>
          <span className="hidden w-32 xl:block">
            <ProgressBar done={Math.min(pair.done, pair.wanted)} of={pair.wanted} label={t`pairs compared`} />
          </span>
          {pair.mine > 0 && !pair.ended && (
            <Button keyHint="⌫" disabled={back.isPending} onClick={takeBack}>{t`Take the last back`}</Button>
          )}
          <ButtonLink to="/marking">{t`Leave for now`}</ButtonLink>
        </>
      }
    >
      <div className="flex min-h-0 flex-1 flex-col px-5 py-4">
        <Problem error={judge.error ?? back.error} />
        {judge.isPaused && (
          <p
            role="status"
            className="mb-3 border-s-2 border-ochre bg-ochre-wash px-3 py-2"
          >{t`There is no connection. What you said is kept on this page and is sent with the connection; leave the page open.`}</p>
        )}
        {pair.left && pair.right ? (
          <>
            <details className="mb-3 text-sm">
              <summary>{t`The question that was answered`}</summary>
              <Rich html={pair.stem} className="mt-1 font-serif text-base" />
            </details>
            <div className="grid min-h-0 flex-1 gap-4 lg:grid-cols-2">
              {(["left", "right"] as const).map((side) => {
                const piece = pair[side];
                return (
                  piece && (
                    <section
                      key={`${side} ${piece.number}`}
                      aria-label={side === "left" ? t`The left one` : t`The right one`}
                      className="flex min-h-0 flex-col border border-hairline"
                    >
                      <div className="flex items-center gap-3 border-b border-hairline px-4 py-2">
                        <span className="text-sm text-graphite">{t`No. ${piece.number}`}</span>
                        <Button
                          variant="main"
                          className="ms-auto"
                          keyHint={side === "left" ? "←" : "→"}
                          disabled={judge.isPending}
                          onClick={() => say(side)}
                        >{t`This one`}</Button>
                      </div>
                      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: work that scrolls must be reachable by keyboard */}
                      <div tabIndex={0} className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
                        <PieceWork comparisonId={id} piece={piece} />
                      </div>
                    </section>
                  )
                );
              })}
            </div>
          </>
        ) : (
          <Empty
            title={pair.ended ? t`This comparison has been ended.` : t`Nothing more for you to compare.`}
            action={<ButtonLink to="/marking">{t`What else waits`}</ButtonLink>}
          >
            {pair.mine > 0 && (
              <Trans>You have compared {plural(pair.mine, { one: "# pair", other: "# pairs" })}.</Trans>
            )}
          </Empty>
        )}
      </div>
    </Page>
  );
}
