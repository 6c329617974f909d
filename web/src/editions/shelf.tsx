import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, read } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem, TextInput } from "../ui/field";
import { Line, Page } from "../ui/split-page";
import { useSay } from "../ui/undo";

/** Tests and lessons ready to copy: those that come with Verso Mark and those of colleagues. */
export function Shelf() {
  const [typed, setTyped] = useState("");
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const found = useQuery({
    queryKey: ["shelf", typed],
    queryFn: () => read(api.GET("/api/v1/shelf", { params: { query: { typed } } })),
    placeholderData: (before) => before,
  });
  const copy = useMutation({
    mutationFn: (key: string) => read(api.POST("/api/v1/shelf/{key}/copy", { params: { path: { key } } })),
    onSuccess: (made) => {
      client.invalidateQueries();
      navigate(`/tests/${made.id}`);
      say(t`It is yours now: the test is among yours, its questions are in your bank.`);
    },
  });
  return (
    <Page
      title={t`The shelf`}
      facts={t`ready to copy`}
      actions={<ButtonLink to="/tests">{t`Your own tests`}</ButtonLink>}
    >
      <div className="px-6 py-4 lg:overflow-y-auto">
        <TextInput
          type="search"
          aria-label={t`Find on the shelf`}
          placeholder={t`Find by topic or words`}
          className="mb-3 max-w-md"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Problem error={found.error ?? copy.error} />
        {found.data?.length === 0 && <p className="py-4 text-graphite">{t`Nothing on the shelf holds these words.`}</p>}
        {found.data?.map((line) => (
          <Line
            key={line.key}
            margin={line.topic}
            action={
              <Button
                onClick={() => copy.mutate(line.key)}
                disabled={copy.isPending}
                aria-label={t`Copy ${line.title}`}
              >{t`Copy`}</Button>
            }
          >
            <p className="font-serif text-lg font-semibold">{line.title}</p>
            <p>{line.summary}</p>
            <p className="text-sm text-graphite">
              {line.pages > 0 && t`lesson, ${plural(line.pages, { one: "# page", other: "# pages" })}, `}
              {t`${plural(line.questions, { one: "# question", other: "# questions" })} · by ${line.by}`}
            </p>
          </Line>
        ))}
      </div>
    </Page>
  );
}
