import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Field, Problem, TextArea, TextInput } from "../ui/field";
import { KeptNote, useKeeping } from "../ui/keeping";
import { Region } from "../ui/spread";
import { KINDS, KindEditor } from "./kinds";
import { SkillPicker } from "./skill-picker";

export function ItemEditor({ itemId, onArchive }: { itemId: string; onArchive: () => void }) {
  const item = useQuery({
    queryKey: ["item", itemId],
    queryFn: () => read(api.GET("/api/items/{item_id}", { params: { path: { item_id: itemId } } })),
    // The editor holds the newest text itself; a refetch under the typing hand would only get in the way.
    staleTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  });
  if (item.error) return <Problem error={item.error} />;
  return item.data && item.isFetchedAfterMount ? <Editor item={item.data} onArchive={onArchive} /> : null;
}

function Editor({ item, onArchive }: { item: Schemas["ItemPage"]; onArchive: () => void }) {
  const [draft, setDraft] = useState({ content: item.content, skills: item.skills });
  const [problems, setProblems] = useState(item.problems);
  const revision = useRef(item.revision);
  const client = useQueryClient();
  const keeping = useKeeping(draft, async (value) => {
    const kept = await read(
      api.PUT("/api/items/{item_id}", {
        params: { path: { item_id: item.id } },
        body: { ...value, revision: revision.current },
      }),
    );
    revision.current = kept.revision;
    setProblems(kept.problems);
    client.setQueryData(["item", item.id], kept);
    client.invalidateQueries({ queryKey: ["items"] });
    client.invalidateQueries({ queryKey: ["skills"] });
  });
  const setContent = (content: typeof draft.content) => setDraft((before) => ({ ...before, content }));
  return (
    <Region name={KINDS[item.content.kind].name} remark={<KeptNote keeping={keeping} />}>
      <div className="pt-4">
        <Field label={item.content.kind === "true_false" ? "Statement" : "Question"}>
          {(id) => (
            <TextArea
              id={id}
              rows={2}
              maxLength={4000}
              className="font-serif text-lg"
              value={draft.content.stem ?? ""}
              onChange={(event) => setContent({ ...draft.content, stem: event.target.value })}
            />
          )}
        </Field>
        <KindEditor content={draft.content} onChange={setContent} />
        <div className="mt-5 grid gap-x-6 sm:grid-cols-[6rem_1fr]">
          <Field label="Marks">
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={0.5}
                max={100}
                step={0.5}
                defaultValue={draft.content.marks ?? 1}
                onChange={(event) =>
                  event.target.validity.valid &&
                  event.target.value &&
                  setContent({ ...draft.content, marks: Number(event.target.value) })
                }
              />
            )}
          </Field>
          <SkillPicker skills={draft.skills} onChange={(skills) => setDraft((before) => ({ ...before, skills }))} />
        </div>
        {problems.length > 0 && (
          <div className="border-l-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
            <p className="font-semibold text-ochre">◐ Before it can stand in a test</p>
            <ul>
              {problems.map((problem) => (
                <li key={problem}>{problem}</li>
              ))}
            </ul>
          </div>
        )}
        <div className="mt-5">
          <Button look="quiet" onClick={onArchive}>
            Take it out of the bank
          </Button>
        </div>
      </div>
    </Region>
  );
}
