import { t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Navigate, useNavigate, useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Page, Region } from "../ui/split-page";
import { type Body, PilePlan } from "./pile-plan";

/** Sharing the answers of a sitting out to several markers, those of other classes that took the same test with them. */
export function NewPilePage() {
  const sittingId = Number(useParams().sittingId);
  const client = useQueryClient();
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: ["pile", "of", sittingId],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/marking/pile", { params: { path: { sitting_id: sittingId } } })),
  });
  const make = useMutation({
    mutationFn: (body: Body) => read(api.POST("/api/v1/piles", { body })),
    onSuccess: async (pile) => {
      await changed(client, "pile");
      navigate(`/piles/${pile.id}`, { replace: true });
    },
  });
  const choices = found.data;
  if (choices?.pile) return <Navigate to={`/piles/${choices.pile}`} replace />;
  return (
    <Page
      title={t`Share with colleagues`}
      of={choices?.title}
      actions={<ButtonLink to={`/marking/${sittingId}`}>{t`Back to marking`}</ButtonLink>}
    >
      <div className="px-6 py-4 lg:min-h-0 lg:overflow-y-auto">
        <Problem error={found.error ?? make.error} />
        {choices && (
          <Region name={t`One pile, several markers`}>
            <p className="mt-2 text-graphite">
              {t`Each marker finds their answers under Marking. They see these answers and nothing else of the class.`}
            </p>
            <PilePlan
              plan={{
                way: "next",
                sittings: choices.sittings.map((one) => one.sitting),
                markers: choices.colleagues
                  .slice(0, 1)
                  .map((one) => ({ teacher: one.id, share: 1, items: [], barred: [] })),
                names: "shown",
                practise_first: false,
                not_own: false,
                like_together: false,
                check_every: 8,
              }}
              sittings={choices.sittings}
              questions={choices.questions}
              colleagues={choices.colleagues}
              students={choices.students}
              isNew
              busy={make.isPending}
              onPlan={(body) => make.mutate(body)}
            />
          </Region>
        )}
      </div>
    </Page>
  );
}
