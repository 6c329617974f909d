import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { arrayMove, sortableKeyboardCoordinates } from "@dnd-kit/sortable";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Field, Problem, TextArea, TextInput } from "../ui/field";
import { KeptNote, useKeeping } from "../ui/keeping";
import { Page, Region, Spread } from "../ui/spread";
import { useSay } from "../ui/undo";
import { dayOf, many } from "../ui/words";
import { BankShelf, FROM_BANK } from "./bank-shelf";
import { PaperList } from "./paper-list";
import { Preview } from "./preview";

type Item = Schemas["ItemPage"];

export function TestPage() {
  const testId = Number(useParams().testId);
  const test = useQuery({
    queryKey: ["test", testId],
    queryFn: () => read(api.GET("/api/tests/{test_id}", { params: { path: { test_id: testId } } })),
    staleTime: 0,
    refetchOnWindowFocus: false,
  });
  // The builder starts from what it is given, so it must not be given what an earlier visit left behind.
  if (!test.data || !test.isFetchedAfterMount)
    return (
      <Page title="Test">
        <div className="px-6">
          <Problem error={test.error} />
        </div>
      </Page>
    );
  return <Builder key={testId} test={test.data} />;
}

/** The paper on the left, the bank on the right; questions move over by drag, by click or by keyboard. */
function Builder({ test }: { test: Schemas["TestPage"] }) {
  const [draft, setDraft] = useState({ title: test.title, instructions: test.instructions });
  const [items, setItems] = useState<Item[]>(test.items);
  const [problems, setProblems] = useState(test.problems);
  const [latest, setLatest] = useState(test.editions[0]);
  const [previewing, setPreviewing] = useState(false);
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useSay();
  const path = { path: { test_id: test.id } };
  const save = async (body: Schemas["TestChange"]) => {
    const kept = await read(api.PUT("/api/tests/{test_id}", { params: path, body }));
    setProblems(kept.problems);
    client.invalidateQueries({ queryKey: ["tests"] });
    client.invalidateQueries({ queryKey: ["desk"] });
    return kept;
  };
  const body = { ...draft, items: items.map((item) => item.id) };
  const keeping = useKeeping(body, save);
  const freeze = useMutation({
    mutationFn: async () => {
      await save(body);
      return read(api.POST("/api/tests/{test_id}/freeze", { params: path }));
    },
    onSuccess: (edition) => {
      setLatest(edition);
      client.invalidateQueries({ queryKey: ["tests"] });
      client.invalidateQueries({ queryKey: ["editions"] });
      client.invalidateQueries({ queryKey: ["desk"] });
      say(
        `Edition ${edition.number} is frozen: ${many(edition.questions, "question")}, ${many(edition.marks, "mark")}.`,
      );
    },
  });
  const add = (item: Item, at = items.length) =>
    setItems((now) => (now.some((other) => other.id === item.id) ? now : now.toSpliced(at, 0, item)));
  const take = (item: Item) => {
    const before = items;
    setItems(items.filter((other) => other.id !== item.id));
    say("Taken off the paper.", () => setItems(before));
  };
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const drop = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    const fresh = active.data.current?.[FROM_BANK] as Item | undefined;
    const place = items.findIndex((item) => item.id === over.id);
    if (fresh) add(fresh, place < 0 ? items.length : place);
    else if (place >= 0)
      setItems(
        arrayMove(
          items,
          items.findIndex((item) => item.id === active.id),
          place,
        ),
      );
  };
  const marks = items.reduce((sum, item) => sum + (item.content.marks ?? 1), 0);
  const ready = problems.length === 0 && items.length > 0;
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <Page
        title={draft.title || "Untitled test"}
        facts={
          <>
            {many(items.length, "question")}, {many(marks, "mark")}
            {latest && ` · edition ${latest.number} frozen ${dayOf(latest.frozen_at)}`} <KeptNote keeping={keeping} />
          </>
        }
        actions={
          <>
            <Button onClick={() => setPreviewing(true)} disabled={items.length === 0}>
              As students see it
            </Button>
            <Button
              look={latest ? "plain" : "main"}
              onClick={() => freeze.mutate()}
              disabled={!ready || freeze.isPending}
            >
              {latest ? "Freeze it again" : "Freeze an edition"}
            </Button>
            {latest && (
              <Button look="main" onClick={() => navigate(`/sittings?new=1&edition=${latest.id}`)}>
                Plan a sitting
              </Button>
            )}
          </>
        }
      >
        <Spread
          split="even"
          names={{ verso: "The test", recto: "Questions to choose from" }}
          verso={
            <>
              <Problem error={freeze.error} />
              <Field label="Title">
                {(id) => (
                  <TextInput
                    id={id}
                    className="font-serif text-xl"
                    maxLength={200}
                    value={draft.title}
                    onChange={(event) => setDraft({ ...draft, title: event.target.value })}
                  />
                )}
              </Field>
              <Field label="Instructions to students">
                {(id) => (
                  <TextArea
                    id={id}
                    rows={1}
                    maxLength={4000}
                    value={draft.instructions}
                    onChange={(event) => setDraft({ ...draft, instructions: event.target.value })}
                  />
                )}
              </Field>
              <Region
                name="The paper"
                remark={problems.length > 0 && items.length > 0 && <span className="text-ochre">◐ {problems[0]}</span>}
              >
                <PaperList items={items} onTake={take} onMove={(from, to) => setItems(arrayMove(items, from, to))} />
              </Region>
            </>
          }
          recto={<BankShelf used={new Set(items.map((item) => item.id))} onAdd={add} />}
        />
        {previewing && <Preview testId={test.id} save={() => save(body)} onClose={() => setPreviewing(false)} />}
      </Page>
    </DndContext>
  );
}
