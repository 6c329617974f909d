import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { sortableKeyboardCoordinates } from "@dnd-kit/sortable";
import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { keepPictureAddress } from "../bank/pictures";
import { Unsent } from "../bank/unsent";
import { LANGUAGES } from "../language/locales";
import { AskInRoom } from "../ui/ask-in-room";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { saveFile } from "../ui/files";
import { undoKeys, useHistory } from "../ui/history";
import { KeptNote, useKeeping } from "../ui/keeping";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
import { RichField } from "../ui/rich-field";
import { SegmentedControl } from "../ui/segmented-control";
import { Page, Region, SplitPage } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { dayOf } from "../ui/words";
import { BankShelf, FROM_BANK } from "./bank-shelf";
import { Checks } from "./checks";
import { DescribedPage } from "./described-page";
import { EditionsList } from "./editions-list";
import {
  blankPage,
  blankSection,
  type Item,
  itemsIn,
  type Layout,
  moved,
  placed,
  questionsIn,
  rowsOf,
  totalMarks,
  withEntry,
  without,
} from "./layout";
import { usePaper } from "./on-paper";
import { PaperList } from "./paper-list";
import { Plan } from "./plan";
import { Preview } from "./preview";
import { PrintMenu } from "./print-menu";
import { ShareDialog } from "./share-dialog";

export function TestPage() {
  const testId = Number(useParams().testId);
  const test = useQuery({
    queryKey: ["test", testId],
    queryFn: () => read(api.GET("/api/v1/tests/{test_id}", { params: { path: { test_id: testId } } })),
    staleTime: 0,
    refetchOnWindowFocus: false,
  });
  // The builder starts from what it is given, so it must not be given what an earlier visit left behind.
  if (!test.data || !test.isFetchedAfterMount)
    return (
      <Page title={t`Test`}>
        <NoPage error={test.error} />
      </Page>
    );
  return test.data.marks_only ? (
    <DescribedPage key={testId} test={test.data} />
  ) : (
    <Builder key={testId} test={test.data} />
  );
}

type Draft = Schemas["TestChange"];

/** The paper on the left; on the right the bank, the plan, or what is to be mended. */
function Builder({ test }: { test: Schemas["TestPage"] }) {
  const { draft, set, undo, redo } = useHistory<Draft>(`verso.steps.test.${test.id}`, {
    title: test.title,
    instructions: test.instructions,
    layout: test.layout,
    language: test.language,
  });
  const [items, setItems] = useState(() => new Map(test.items.map((item) => [item.id, item])));
  const [kept, setKept] = useState(test);
  const [view, setView] = useState<"bank" | "plan" | "checks">("bank");
  const [whole, setWhole] = useState(true);
  const [showing, setShowing] = useState<"preview" | "share" | "delete" | null>(null);
  const [unsent, setUnsent] = useState<Schemas["Unsent"][]>([]);
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useSay();
  const path = { path: { test_id: test.id } };
  const { layout } = draft;
  const setLayout = (next: Layout) => set((now) => ({ ...now, layout: next }));
  const save = async (body: Draft) => {
    const page = await read(api.PUT("/api/v1/tests/{test_id}", { params: path, body }));
    setKept(page);
    void changed(client, "tests");
    return page;
  };
  const keeping = useKeeping(draft, save);
  const frozen = (editions: Schemas["EditionLine"][]) => {
    setKept((now) => ({
      ...now,
      editions: [...editions.filter((e) => !now.editions.some((old) => old.id === e.id)), ...now.editions],
    }));
    void changed(client, "tests");
  };
  const freeze = useMutation({
    mutationFn: async () => {
      await save(draft);
      return read(api.POST("/api/v1/tests/{test_id}/freeze", { params: path }));
    },
    onSuccess: (edition) => {
      frozen([edition]);
      say(
        t`Edition ${edition.number} is frozen: ${plural(edition.questions, { one: "# question", other: "# questions" })}, ${plural(edition.marks, { one: "# mark", other: "# marks" })}.`,
      );
    },
  });
  const freezePair = useMutation({
    mutationFn: async () => {
      await save(draft);
      return read(api.POST("/api/v1/tests/{test_id}/freeze-pair", { params: path }));
    },
    onSuccess: (editions) => {
      frozen(editions.toReversed());
      say(t`Two equivalent editions are frozen: one for before teaching, one for after.`);
    },
  });
  // The page it leads to reads what the server has.
  const equivalent = useMutation({
    mutationFn: () => save(draft),
    onSuccess: () => navigate(`/tests/${test.id}/equivalent`),
  });
  const copy = useMutation({
    mutationFn: () => read(api.POST("/api/v1/tests/{test_id}/copy", { params: path })),
    onSuccess: (made) => {
      void changed(client, "tests");
      navigate(`/tests/${made.id}`);
      say(t`This is the copy.`);
    },
  });
  const send = useMutation({
    mutationFn: () => read(api.POST("/api/v1/tests/{test_id}/send", { params: path })),
    onSuccess: (file) => {
      saveFile(file.name, file.type, file.data);
      setUnsent(file.unsent);
    },
  });
  const remove = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/tests/{test_id}", { params: path })),
    onSuccess: () => {
      client.invalidateQueries();
      navigate("/tests");
      say(t`The test is gone.`);
    },
  });
  const putAway = useMutation({
    mutationFn: () => read(api.POST("/api/v1/tests/{test_id}/put-away", { params: path })),
    onSuccess: () => {
      client.invalidateQueries();
      navigate("/tests");
      say(t`The test is put away. Its results stay.`, async () => {
        await read(api.POST("/api/v1/tests/{test_id}/restore", { params: path }));
        void changed(client, "tests");
      });
    },
  });
  const add = (item: Item, at?: number) => {
    setItems((now) => new Map(now).set(item.id, item));
    set((now) => ({ ...now, layout: withEntry(now.layout, placed(item.id), at) }));
  };
  const take = (id: string, says: string) => {
    const before = layout;
    setLayout(without(layout, id));
    // For a moment only: the undo of the paper itself reaches further, and this would take back what came after.
    say(says, () => setLayout(before), t`Undo`);
  };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    const fresh = active.data.current?.[FROM_BANK] as Item | undefined;
    const rows = rowsOf(layout);
    const place = rows.findIndex((row) => row.id === over.id);
    if (fresh) add(fresh, place < 1 ? undefined : place);
    else if (place >= 0)
      setLayout(
        moved(
          layout,
          rows.findIndex((row) => row.id === active.id),
          place,
        ),
      );
  };
  const refs = itemsIn(layout);
  const onPaper = usePaper(test.id, keeping.at, whole);
  const latest = kept.editions[0];
  const ready = !kept.checks.some((check) => check.stops);
  const lesson = layout.sections.some((section) => section.entries.some((entry) => entry.entry === "page"));
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <Page
        title={draft.title || t`Untitled test`}
        facts={
          <>
            {lesson && t`lesson · `}
            {plural(questionsIn(layout), { one: "# question", other: "# questions" })},{" "}
            {plural(totalMarks(layout, items), { one: "# mark", other: "# marks" })}
            {latest && t` · edition ${latest.number} frozen ${dayOf(latest.frozen_at)}`} <KeptNote keeping={keeping} />
          </>
        }
        actions={
          <>
            <Button
              onClick={() => setShowing("preview")}
              disabled={questionsIn(layout) === 0 && !lesson}
            >{t`As students see it`}</Button>
            <PrintMenu at={`/api/v1/tests/${test.id}/print`} forms={["A"]} disabled={questionsIn(layout) === 0} />
            <Button
              variant={latest ? "plain" : "main"}
              onClick={() => freeze.mutate()}
              disabled={!ready || freeze.isPending}
            >
              {latest ? t`Freeze it again` : t`Freeze an edition`}
            </Button>
            {latest && <AskInRoom what={{ test: test.id }} />}
            {latest && (
              <Button
                variant="main"
                onClick={() => navigate(`/sittings?new=1&edition=${latest.id}`)}
              >{t`Plan a sitting`}</Button>
            )}
            <Menu
              trigger={<Button aria-label={t`More to do with this test`}>…</Button>}
              choices={[
                {
                  name: t`Freeze two equivalent editions`,
                  says: t`before and after teaching`,
                  onChoose: freezePair.mutate,
                },
                {
                  name: t`An equivalent test…`,
                  says: t`other questions of the same skills`,
                  onChoose: equivalent.mutate,
                },
                { name: t`Make a copy`, onChoose: copy.mutate },
                { name: t`Save as QTI 3.0`, says: t`for other systems`, onChoose: send.mutate },
                {
                  name: kept.shared ? t`On the shelf…` : t`Put on the shelf…`,
                  says: t`for colleagues`,
                  onChoose: () => setShowing("share"),
                },
                {
                  name: latest ? t`Put away` : t`Delete…`,
                  onChoose: () => (latest ? putAway.mutate() : setShowing("delete")),
                },
              ]}
            />
          </>
        }
      >
        <SplitPage
          split="even"
          names={{ left: t`The test`, right: t`Questions to choose from` }}
          left={
            <div onKeyDownCapture={undoKeys(undo, redo)}>
              <Problem error={freeze.error ?? freezePair.error ?? equivalent.error ?? copy.error ?? remove.error} />
              <Field label={t`Title`}>
                {(id) => (
                  <TextInput
                    id={id}
                    className="font-serif text-xl"
                    maxLength={200}
                    value={draft.title}
                    onChange={(event) => set({ ...draft, title: event.target.value })}
                  />
                )}
              </Field>
              <Field label={t`Language it is written in`}>
                {(id) => (
                  <Choice
                    id={id}
                    className="w-auto!"
                    value={draft.language}
                    onChange={(event) => set({ ...draft, language: event.target.value as Draft["language"] })}
                  >
                    <option value="">{t`the school’s`}</option>
                    {Object.entries(LANGUAGES).map(([language, name]) => (
                      <option key={language} value={language} lang={language}>
                        {name}
                      </option>
                    ))}
                  </Choice>
                )}
              </Field>
              <Field label={t`Instructions to students`}>
                {() => (
                  <RichField
                    label={t`Instructions to students`}
                    value={draft.instructions}
                    onPicture={keepPictureAddress}
                    onChange={(instructions) => set((now) => ({ ...now, instructions }))}
                  />
                )}
              </Field>
              <Region
                name={t`The paper`}
                remark={
                  <span className="flex flex-wrap justify-end gap-x-4">
                    {refs.length > 0 && (
                      <Button variant="quiet" aria-pressed={!whole} onClick={() => setWhole(!whole)}>
                        {whole ? t`first lines only` : t`whole questions`}
                      </Button>
                    )}
                    <Button
                      variant="quiet"
                      onClick={() => setLayout({ ...layout, sections: [...layout.sections, blankSection()] })}
                    >{t`new section`}</Button>
                    <Button
                      variant="quiet"
                      onClick={() => setLayout(withEntry(layout, blankPage()))}
                    >{t`page to teach from`}</Button>
                  </span>
                }
              >
                <PaperList
                  layout={layout}
                  items={items}
                  onPaper={onPaper}
                  checks={kept.checks}
                  onChange={setLayout}
                  onTake={take}
                />
              </Region>
              <EditionsList editions={kept.editions} />
            </div>
          }
          right={
            <>
              <SegmentedControl
                label={t`Beside the paper`}
                value={view}
                onChange={setView}
                options={{
                  bank: t`From the bank`,
                  plan: t`Plan`,
                  checks: kept.checks.length > 0 ? t`To mend or look at: ${kept.checks.length}` : t`Checked ●`,
                }}
              />
              {view === "bank" && <BankShelf used={new Set(refs)} onAdd={add} />}
              {view === "plan" && <Plan testId={test.id} layout={layout} keptAt={keeping.at} onChange={setLayout} />}
              {view === "checks" && <Checks checks={kept.checks} onPlan={() => setView("plan")} />}
            </>
          }
        />
        {showing === "preview" && (
          <Preview testId={test.id} save={() => save(draft)} onClose={() => setShowing(null)} />
        )}
        {unsent.length > 0 && <Unsent unsent={unsent} onClose={() => setUnsent([])} />}
        <Dialog
          open={showing === "delete"}
          onClose={() => setShowing(null)}
          title={t`Delete this test?`}
          says={t`It was never frozen, so nobody has sat it. Its questions stay in the bank; how it is put together does not come back.`}
        >
          <Button variant="main" onClick={() => remove.mutate()}>{t`Delete it`}</Button>
        </Dialog>
        {showing === "share" && <ShareDialog test={kept} onKept={setKept} onClose={() => setShowing(null)} />}
      </Page>
    </DndContext>
  );
}
