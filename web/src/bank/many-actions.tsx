import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Choice, Problem } from "../ui/field";
import { useSay } from "../ui/undo";
import { WordPicker } from "../ui/word-picker";
import { manyItems } from "./items-found";
import { useOwnDepartments, useSharing } from "./shared-questions";
import { SkillPicker } from "./skill-picker";

const NOBODY = "nobody";
const NEW = "new";

type Props = { ids: string[]; onClear: () => void; onArchive: () => void };

/** What can be done with several questions at once. */
export function ManyActions({ ids, onClear, onArchive }: Props) {
  const [tagging, setTagging] = useState(false);
  const [skills, setSkills] = useState<string[]>([]);
  const [keywords, setKeywords] = useState<string[]>([]);
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const tests = useQuery({ queryKey: ["tests"], queryFn: () => read(api.GET("/api/v1/tests")) });
  const departments = useOwnDepartments();
  const share = useSharing(ids, onClear);
  const tag = useMutation({
    mutationFn: () =>
      read(api.POST("/api/v1/items/tag", { body: manyItems(ids, { add_skills: skills, add_keywords: keywords }) })),
    onSuccess: ({ count }) => {
      client.invalidateQueries();
      say(t`${plural(count, { one: "# question", other: "# questions" })} tagged.`);
      setTagging(false);
      onClear();
    },
  });
  const putIn = useMutation({
    mutationFn: async (chosen: string) => {
      const testId = chosen === NEW ? (await read(api.POST("/api/v1/tests", { body: { title: "" } }))).id : +chosen;
      return read(
        api.POST("/api/v1/tests/{test_id}/items", { params: { path: { test_id: testId } }, body: { items: ids } }),
      );
    },
    onSuccess: (test) => {
      client.invalidateQueries();
      navigate(`/tests/${test.id}`);
    },
  });
  return (
    <div className="mb-2 border-s-3 border-iris bg-iris-wash px-3 py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <strong>{t`${plural(ids.length, { one: "# question", other: "# questions" })} chosen`}</strong>
        <Button variant="quiet" onClick={() => setTagging(!tagging)}>{t`tag them`}</Button>
        <Choice
          aria-label={t`Put them in a test`}
          className="w-auto! py-0.5! text-sm"
          value=""
          onChange={(event) => event.target.value && putIn.mutate(event.target.value)}
        >
          <option value="">{t`put them in a test…`}</option>
          <option value={NEW}>{t`a new test`}</option>
          {tests.data
            ?.filter((test) => !test.marks_only)
            .map((test) => (
              <option key={test.id} value={test.id}>
                {test.title || t`Untitled test`}
              </option>
            ))}
        </Choice>
        {(departments.data?.length ?? 0) > 0 && (
          <Choice
            aria-label={t`Share them with a department`}
            className="w-auto! py-0.5! text-sm"
            value=""
            onChange={(event) => {
              if (event.target.value) share.mutate(event.target.value === NOBODY ? null : Number(event.target.value));
            }}
          >
            <option value="">{t`share them with…`}</option>
            {departments.data?.map((department) => (
              <option key={department.id} value={department.id}>
                {department.name}
              </option>
            ))}
            <option value={NOBODY}>{t`nobody any more`}</option>
          </Choice>
        )}
        <Button variant="quiet" onClick={onArchive}>{t`take them out of the bank`}</Button>
        <Button variant="quiet" onClick={onClear}>{t`choose none`}</Button>
      </div>
      <Problem error={tag.error ?? putIn.error ?? share.error} />
      {tagging && (
        <div className="pt-2">
          <SkillPicker skills={skills} onChange={setSkills} />
          <WordPicker label={t`Keywords`} words={keywords} known={[]} onChange={setKeywords} />
          <Button variant="main" disabled={skills.length + keywords.length === 0} onClick={() => tag.mutate()}>
            {t`Add to ${plural(ids.length, { one: "# question", other: "# questions" })}`}
          </Button>
        </div>
      )}
    </div>
  );
}
