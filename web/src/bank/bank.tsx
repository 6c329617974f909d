import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { saveFile } from "../ui/files";
import { useKeys } from "../ui/keys";
import { Menu } from "../ui/menu";
import { Empty, Page, SplitPage } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { BringQuestions } from "./bring-questions";
import { Filters, NO_FILTERS, type Wanted } from "./filters";
import { FindingBeside } from "./finding-beside";
import { ItemEditor } from "./item-editor";
import { ItemLine } from "./item-line";
import { MoreButton, manyItems, useItems } from "./items-found";
import { KINDS } from "./kinds";
import type { Content } from "./kinds/types";
import { ManyActions } from "./many-actions";
import { type LookAtQuestion, SharedQuestions } from "./shared-questions";
import { Unsent } from "./unsent";

/** All questions: found on the verso, written on the recto. */
export function Bank({ Look }: { Look: LookAtQuestion }) {
  const { itemId } = useParams();
  const [search] = useSearchParams();
  const beside = Number(search.get("beside"));
  const [wanted, setWanted] = useState<Wanted>({ ...NO_FILTERS, skill: search.get("skill") ?? NO_FILTERS.skill });
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  // Somebody who comes to write a question on a skill is asked at once of what kind.
  const [choosing, setChoosing] = useState(search.has("new"));
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useSay();
  const items = useItems(wanted);
  const open = (made: Schemas["ItemPage"]) => {
    client.setQueryData(["item", made.id], made);
    void changed(client, "items", "item");
    navigate(`/bank/${made.id}`);
  };
  const make = useMutation({
    mutationFn: (kind: Content["kind"]) =>
      read(
        api.POST("/api/v1/items", {
          body: {
            content: KINDS[kind].blank(),
            skills: wanted.skill ? [wanted.skill] : [],
            keywords: [],
            source: "",
            author: "",
          },
        }),
      ),
    onSuccess: open,
  });
  const copy = useMutation({
    mutationFn: (id: string) => read(api.POST("/api/v1/items/{item_id}/copy", { params: { path: { item_id: id } } })),
    onSuccess: (made) => {
      open(made);
      say(t`This is the copy.`);
    },
  });
  const archive = useMutation({
    mutationFn: (ids: string[]) => read(api.POST("/api/v1/items/archive", { body: manyItems(ids) })),
    onSuccess: ({ count }, ids) => {
      void changed(client, "items", "item");
      setChosen(new Set());
      navigate("/bank");
      say(
        plural(count, { one: "The question is out of the bank.", other: "# questions are out of the bank." }),
        async () => {
          await read(api.POST("/api/v1/items/restore", { body: manyItems(ids) }));
          void changed(client, "items", "item");
          if (ids.length === 1) navigate(`/bank/${ids[0]}`);
        },
      );
    },
  });
  useKeys({ n: () => setChoosing(true) });
  const newQuestion = (
    <Menu
      open={choosing}
      onOpen={setChoosing}
      trigger={<Button variant="main" keyHint="N">{t`New question`}</Button>}
      choices={(Object.keys(KINDS) as Content["kind"][]).map((kind) => ({
        name: KINDS[kind].name,
        says: KINDS[kind].says,
        onChoose: () => make.mutate(kind),
      }))}
    />
  );
  const filtered = JSON.stringify(wanted) !== JSON.stringify(NO_FILTERS);
  const { found } = items;
  const nothing = found?.total === 0 && !filtered;
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  return (
    <Page
      title={t`Bank`}
      facts={
        found && (filtered ? t`${found.total} found` : plural(found.total, { one: "# question", other: "# questions" }))
      }
      actions={
        <>
          <ButtonLink to="/skills">{t`Skills`}</ButtonLink>
          <ButtonLink to="/materials">{t`Materials`}</ButtonLink>
          <MoreMenu ids={[...chosen]} Look={Look} />
          {newQuestion}
        </>
      }
    >
      <SplitPage
        split="narrow"
        names={{ left: t`Questions`, right: t`The question` }}
        left={
          <>
            {!nothing && <Filters wanted={wanted} onChange={setWanted} />}
            {chosen.size > 0 && (
              <ManyActions
                ids={[...chosen]}
                onClear={() => setChosen(new Set())}
                onArchive={() => archive.mutate([...chosen])}
              />
            )}
            <Problem error={items.error ?? make.error ?? copy.error ?? archive.error} />
            {found?.total === 0 && (
              <Empty title={filtered ? t`No question fits.` : t`The bank is empty.`}>
                {filtered
                  ? t`Try fewer words, or set a filter back.`
                  : t`Write a question once and use it for years: press N, or “New question” above. Say what each wrong answer would show, and the findings will say it back to you.`}
              </Empty>
            )}
            <ul>
              {found?.items.map((item) => (
                <ItemLine
                  key={item.id}
                  item={item}
                  open={item.id === itemId}
                  chosen={chosen.has(item.id)}
                  onChoose={() => toggle(item.id)}
                />
              ))}
            </ul>
            <MoreButton items={items} />
          </>
        }
        right={
          itemId ? (
            <>
              {beside > 0 && <FindingBeside sittingId={beside} itemId={itemId} />}
              <ItemEditor
                key={itemId}
                itemId={itemId}
                onArchive={() => archive.mutate([itemId])}
                onCopy={() => copy.mutate(itemId)}
              />
            </>
          ) : nothing ? (
            <Empty
              title={t`The first question`}
              action={
                <span className="flex flex-wrap gap-3">
                  <Button variant="main" onClick={() => setChoosing(true)}>{t`Write it`}</Button>
                  <ButtonLink to="/shelf">{t`Look at the shelf`}</ButtonLink>
                </span>
              }
            >{t`Write it, or bring in a file of questions by “…” above. A ready-made test from the shelf brings its questions along.`}</Empty>
          ) : (
            <Empty
              title={t`Choose a question.`}
            >{t`Pick one on the left to read or change it, or write a new one.`}</Empty>
          )
        }
      />
    </Page>
  );
}

/** What comes in from elsewhere and goes out: the chosen questions, or all of them. */
function MoreMenu({ ids, Look }: { ids: string[]; Look: LookAtQuestion }) {
  const [showing, setShowing] = useState<"bring" | "shared" | null>(null);
  const [unsent, setUnsent] = useState<Schemas["Unsent"][]>([]);
  const send = useMutation({
    mutationFn: (form: "qti" | "xlsx") =>
      read(api.POST("/api/v1/items/send/{form}", { params: { path: { form } }, body: { ids } })),
    onSuccess: (file) => {
      saveFile(file.name, file.type, file.data);
      setUnsent(file.unsent);
    },
  });
  const which =
    ids.length > 0
      ? t`the ${plural(ids.length, { one: "# question", other: "# questions" })} chosen`
      : t`all questions`;
  return (
    <>
      <Problem error={send.error} />
      <Menu
        trigger={<Button aria-label={t`More to do with the bank`}>…</Button>}
        choices={[
          { name: t`Bring in questions…`, says: t`QTI, CSV, Excel`, onChoose: () => setShowing("bring") },
          { name: t`Save as QTI 3.0`, says: which, onChoose: () => send.mutate("qti") },
          { name: t`Save as a workbook`, says: which, onChoose: () => send.mutate("xlsx") },
          { name: t`Questions of colleagues…`, says: t`to look at and take`, onChoose: () => setShowing("shared") },
        ]}
      />
      {showing === "bring" && <BringQuestions onClose={() => setShowing(null)} />}
      {showing === "shared" && <SharedQuestions Look={Look} onClose={() => setShowing(null)} />}
      {unsent.length > 0 && <Unsent unsent={unsent} onClose={() => setUnsent([])} />}
    </>
  );
}
