import { t } from "@lingui/core/macro";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Redo2, Undo2 } from "lucide-react";
import { useRef, useState } from "react";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskInRoom } from "../ui/ask-in-room";
import { Button } from "../ui/button";
import { Disclosure } from "../ui/disclosure";
import { Field, Problem, TextInput } from "../ui/field";
import { undoKeys, useHistory } from "../ui/history";
import { KeptNote, useKeeping } from "../ui/keeping";
import { RichField } from "../ui/rich-field";
import { Region } from "../ui/split-page";
import { WordPicker } from "../ui/word-picker";
import type { Draft } from "./draft";
import { ItemHistory } from "./item-history";
import { KINDS, KindEditor } from "./kinds";
import type { Content } from "./kinds/types";
import { keepPictureAddress } from "./pictures";
import { SkillPicker } from "./skill-picker";
import { StimulusPicker } from "./stimulus-picker";
import { VariationEditor } from "./variation";

type Props = { itemId: string; onArchive: () => void; onCopy: () => void };

export function ItemEditor({ itemId, ...actions }: Props) {
  const item = useQuery({
    queryKey: ["item", itemId],
    queryFn: () => read(api.GET("/api/v1/items/{item_id}", { params: { path: { item_id: itemId } } })),
    // The editor holds the newest text itself; a refetch under the typing hand would only get in the way.
    staleTime: 0,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  });
  if (item.error) return <Problem error={item.error} />;
  return item.data && item.isFetchedAfterMount ? <Editor item={item.data} {...actions} /> : null;
}

const draftOf = (item: Schemas["ItemPage"]): Draft => ({
  content: item.content,
  skills: item.skills,
  keywords: item.keywords,
  source: item.source,
  author: item.author,
  stimulus: item.stimulus ?? null,
});

function Editor({ item, onArchive, onCopy }: { item: Schemas["ItemPage"] } & Omit<Props, "itemId">) {
  const { draft, set, undo, redo, canUndo, canRedo } = useHistory<Draft>(`verso.steps.${item.id}`, draftOf(item));
  const [problems, setProblems] = useState(item.problems);
  const revision = useRef(item.revision);
  const client = useQueryClient();
  const keeping = useKeeping(draft, async (value) => {
    const kept = await read(
      api.PUT("/api/v1/items/{item_id}", {
        params: { path: { item_id: item.id } },
        body: { ...value, revision: revision.current },
      }),
    );
    revision.current = kept.revision;
    setProblems(kept.problems);
    // The editor holds the newest text itself: nothing of it is read again while somebody types.
    client.setQueryData(["item", item.id], kept);
    void changed(client, "items", "item");
  });
  const { content } = draft;
  const setContent = (next: Content) => set((now) => ({ ...now, content: next }));
  const part = (change: Partial<Draft>) => set((now) => ({ ...now, ...change }));
  const stemLabel =
    content.kind === "true_false" ? t`Statement` : content.kind === "gaps" ? t`What to do` : t`Question`;
  return (
    <Region
      name={KINDS[content.kind].name}
      remark={
        <span className="flex items-center gap-2">
          <KeptNote keeping={keeping} />
          <Button
            variant="quiet"
            aria-label={t`One step back`}
            title={t`One step back: Ctrl Z`}
            disabled={!canUndo}
            onClick={undo}
          >
            <Undo2 className="size-4" aria-hidden="true" />
          </Button>
          <Button
            variant="quiet"
            aria-label={t`One step forward`}
            title={t`One step forward: Ctrl Shift Z`}
            disabled={!canRedo}
            onClick={redo}
          >
            <Redo2 className="size-4" aria-hidden="true" />
          </Button>
        </span>
      }
    >
      <div className="pt-4" onKeyDownCapture={undoKeys(undo, redo)}>
        <Field label={stemLabel}>
          {() => (
            <RichField
              label={stemLabel}
              className="min-h-12 font-serif text-lg"
              value={content.stem}
              onPicture={keepPictureAddress}
              onChange={(stem) => setContent({ ...content, stem })}
            />
          )}
        </Field>
        <KindEditor content={content} onChange={setContent} />
        <div className="mt-5 grid gap-x-6 sm:grid-cols-[6rem_1fr]">
          <MarksField marks={content.marks} onChange={(marks) => setContent({ ...content, marks })} />
          <SkillPicker skills={draft.skills} onChange={(skills) => part({ skills })} />
        </div>
        {problems.length > 0 && (
          <div className="mb-4 border-s-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
            <p className="font-semibold text-ochre">{t`◐ Before it can stand in a test`}</p>
            <ul>
              {problems.map((problem) => (
                <li key={problem}>{problem}</li>
              ))}
            </ul>
          </div>
        )}
        <div className="border-t border-hairline">
          <StimulusPicker stimulus={draft.stimulus} onChange={(stimulus) => part({ stimulus })} />
          <Disclosure name={t`Why the key is right`} remark={content.rationale ? "" : t`for feedback, if you allow it`}>
            <RichField
              label={t`Why the key is right`}
              className="font-serif"
              value={content.rationale}
              onPicture={keepPictureAddress}
              onChange={(rationale) => setContent({ ...content, rationale })}
            />
          </Disclosure>
          <VariationEditor draft={draft} onChange={setContent} />
          <Disclosure
            name={t`Keywords, source, author`}
            remark={[...draft.keywords, draft.source].filter(Boolean).join(" · ")}
          >
            <WordPicker
              label={t`Keywords`}
              words={draft.keywords}
              known={[]}
              onChange={(keywords) => part({ keywords })}
              hint={t`Type one and press Enter.`}
            />
            <div className="grid gap-x-6 sm:grid-cols-2">
              <Field label={t`Source`}>
                {(id) => (
                  <TextInput
                    id={id}
                    maxLength={300}
                    value={draft.source}
                    onChange={(event) => part({ source: event.target.value })}
                  />
                )}
              </Field>
              <Field label={t`Author`}>
                {(id) => (
                  <TextInput
                    id={id}
                    maxLength={120}
                    value={draft.author}
                    onChange={(event) => part({ author: event.target.value })}
                  />
                )}
              </Field>
            </div>
          </Disclosure>
          <ItemHistory item={item} revision={revision} />
        </div>
        <div className="mt-5 flex flex-wrap gap-4">
          <AskInRoom what={{ item: item.id }} />
          <Button variant="quiet" onClick={onCopy}>{t`Make a copy`}</Button>
          <Button variant="quiet" onClick={onArchive}>{t`Take it out of the bank`}</Button>
        </div>
      </div>
    </Region>
  );
}

function MarksField({ marks, onChange }: { marks: number; onChange: (marks: number) => void }) {
  return (
    <Field label={t`Marks`}>
      {(id) => (
        <TextInput
          id={id}
          key={marks}
          type="number"
          min={0.5}
          max={100}
          step={0.5}
          defaultValue={marks}
          onBlur={(event) => event.target.validity.valid && event.target.value && onChange(Number(event.target.value))}
        />
      )}
    </Field>
  );
}
