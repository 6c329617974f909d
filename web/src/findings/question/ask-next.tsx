import { t } from "@lingui/core/macro";
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { api, read, type Schemas } from "../../api/client";
import { AskInRoom } from "../../room/ask-in-room";
import { Button, ButtonLink } from "../../ui/button";
import { Problem } from "../../ui/field";
import { Line, Region } from "../../ui/split-page";
import { begun, percent } from "../../ui/words";

const MOST = 3;

type Props = { sittingId: number; question: Schemas["ReadQuestion"]; asked: string[] };

/** What to ask next of those who missed a question: others of its skill that the test does not have, or this one
 * reworded. */
export function AskNext({ sittingId, question, asked }: Props) {
  const navigate = useNavigate();
  const [skill] = question.skills;
  const found = useQuery({
    queryKey: ["items", "to ask next", skill],
    queryFn: () =>
      read(api.GET("/api/v1/items", { params: { query: { skill: skill ?? "", most: MOST + asked.length } } })),
    enabled: skill !== undefined,
  });
  const copy = useMutation({
    mutationFn: () => read(api.POST("/api/v1/items/{item_id}/copy", { params: { path: { item_id: question.ref } } })),
    onSuccess: (made) => navigate(`/bank/${made.id}?beside=${sittingId}`),
  });
  const others = (found.data?.items ?? []).filter((item) => item.ready && !asked.includes(item.id)).slice(0, MOST);
  if (skill !== undefined && !found.data) return null;
  return (
    <Region
      name={skill ? t`To ask next on ${skill}` : t`To ask next`}
      remark={
        <Button
          variant="quiet"
          onClick={() => copy.mutate()}
          disabled={copy.isPending}
        >{t`a copy of this one, to change`}</Button>
      }
    >
      <Problem error={copy.error} />
      {others.map((item) => (
        <Line key={item.id} margin={item.difficulty === null ? t`not asked yet` : t`${percent(item.difficulty)} right`}>
          <span className="flex items-start justify-between gap-3">
            <Link to={`/bank/${item.id}`} className="font-serif wrap-anywhere">
              {begun(item.words, 110)}
            </Link>
            <span data-screen-only>
              <AskInRoom what={{ item: item.id }} label={t`Ask it`} />
            </span>
          </span>
        </Line>
      ))}
      {others.length === 0 && (
        <p className="py-2 text-graphite">
          {skill
            ? t`The bank has no other question on ${skill}. `
            : t`The question says no skill to look for others by. `}
          <ButtonLink to={skill ? "/bank" : `/bank/${question.ref}`}>
            {skill ? t`Write one` : t`Give it one`}
          </ButtonLink>
        </p>
      )}
    </Region>
  );
}
