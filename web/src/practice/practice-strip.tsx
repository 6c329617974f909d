import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useLocation, useNavigate } from "react-router";
import { answered, changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { useSay } from "../ui/undo";
import { usePractice } from "./use-practice";

/** Stands over every page while a practice run goes on: what comes next in it, and the way out. */
export function PracticeStrip() {
  const { run } = usePractice();
  if (!run?.class_id) return null;
  return <Strip key={run.sitting} run={run} />;
}

function Strip({ run }: { run: Schemas["PracticePage"] }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const path = useLocation().pathname;
  const say = useSay();
  const sitting = run.sitting ?? 0;
  const answer = useMutation({
    mutationFn: () =>
      read(api.POST("/api/v1/practice/sittings/{sitting_id}/answers", { params: { path: { sitting_id: sitting } } })),
    onSuccess: () => changed(client, "practice"),
  });
  const close = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/steps/{step}", {
          params: { path: { sitting_id: sitting, step: "close" } },
        }),
      ),
    onSuccess: () => {
      navigate(`/findings/${sitting}`);
      return changed(client, "practice");
    },
  });
  const clear = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/practice")),
    onSuccess: async (cleared) => {
      // First away from what is gone.
      navigate("/");
      answered(client, ["practice"], { ...run, class_id: null, sitting: null });
      say(
        cleared.still_used.length
          ? t`The practice is gone. ${plural(cleared.still_used.length, { one: "# question of it stays, since it stands in a test of yours.", other: "# questions of it stay, since they stand in tests of yours." })}`
          : t`The practice is gone, with everything that came with it.`,
      );
      await changed(client, "practice");
    },
  });
  const students = plural(run.students, { one: "# invented student", other: "# invented students" });
  return (
    <section
      aria-label={t`Practice`}
      data-screen-only
      className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2 border border-dashed border-edge bg-page-2 px-5 py-2"
    >
      <strong className="font-semibold">{t`Practice`}</strong>
      <p className="min-w-0 flex-1 basis-60 wrap-anywhere">
        {!run.sitting
          ? t`${run.class_name}: ${students}.`
          : run.at_work > 0 && !run.is_closed
            ? t`${students} have “${run.sitting_title}” before them.`
            : run.is_closed
              ? t`${run.class_name} has sat “${run.sitting_title}”.`
              : t`All have handed in “${run.sitting_title}”.`}
      </p>
      <Problem error={answer.error ?? close.error ?? clear.error} />
      {run.sitting && !run.is_closed && run.at_work > 0 && (
        <Button variant="main" disabled={answer.isPending} onClick={() => answer.mutate()}>
          {answer.isPending ? t`They are answering …` : t`Let them answer`}
        </Button>
      )}
      {run.sitting && run.is_open && run.at_work === 0 && (
        <Button
          variant="main"
          disabled={close.isPending}
          onClick={() => close.mutate()}
        >{t`Close it and see the findings`}</Button>
      )}
      {run.is_closed && path !== `/findings/${sitting}` && (
        <ButtonLink to={`/findings/${sitting}`}>{t`See the findings`}</ButtonLink>
      )}
      {(run.is_closed || !run.sitting) && path !== "/sittings" && (
        <ButtonLink to="/sittings?new=1">{t`Give it a test of yours`}</ButtonLink>
      )}
      {run.sitting && !run.is_closed && path !== `/sittings/${sitting}` && (
        <ButtonLink to={`/sittings/${sitting}`}>{t`Go to the sitting`}</ButtonLink>
      )}
      <AskFirst
        name={t`End the practice`}
        title={t`End the practice?`}
        says={t`The invented class goes, with every sitting of it, the ready-made test and its questions. Nothing of your own is touched.`}
        does={t`End it`}
        busy={clear.isPending}
        onSure={() => clear.mutate()}
      />
    </section>
  );
}
