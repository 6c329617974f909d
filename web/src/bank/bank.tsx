import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Choice, Problem, TextInput } from "../ui/field";
import { useKeys } from "../ui/keys";
import { Empty, Page, Spread } from "../ui/spread";
import { useSay } from "../ui/undo";
import { many } from "../ui/words";
import { ItemEditor } from "./item-editor";
import { type Content, KINDS } from "./kinds";

/** All questions: found on the verso, written on the recto. */
export function Bank() {
  const { itemId } = useParams();
  const [search, setSearch] = useState("");
  const [skill, setSkill] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const say = useSay();
  const items = useItems(search, skill);
  const skills = useQuery({ queryKey: ["skills"], queryFn: () => read(api.GET("/api/skills")) });
  const make = useMutation({
    mutationFn: (kind: Content["kind"]) =>
      read(api.POST("/api/items", { body: { content: KINDS[kind].blank(), skills: skill ? [skill] : [] } })),
    onSuccess: (made) => {
      client.setQueryData(["item", made.id], made);
      client.invalidateQueries({ queryKey: ["items"] });
      navigate(`/bank/${made.id}`);
    },
  });
  const archive = useMutation({
    mutationFn: (id: string) => read(api.DELETE("/api/items/{item_id}", { params: { path: { item_id: id } } })),
    onSuccess: (_, id) => {
      client.invalidateQueries({ queryKey: ["items"] });
      navigate("/bank");
      say("The question is out of the bank.", async () => {
        await read(api.POST("/api/items/{item_id}/restore", { params: { path: { item_id: id } } }));
        client.invalidateQueries({ queryKey: ["items"] });
        navigate(`/bank/${id}`);
      });
    },
  });
  useKeys({ n: () => make.mutate("single_choice") });
  const buttons = (Object.keys(KINDS) as Content["kind"][]).map((kind, place) => (
    <Button
      key={kind}
      look={place === 0 ? "main" : "plain"}
      {...(place === 0 ? { cap: "N" } : {})}
      onClick={() => make.mutate(kind)}
    >
      New {KINDS[kind].name.toLowerCase()}
    </Button>
  ));
  return (
    <Page title="Bank" facts={items.data && many(items.data.length, "question")} actions={buttons}>
      <Spread
        split="narrow"
        names={{ verso: "Questions", recto: "The question" }}
        verso={
          <>
            <div className="mb-3 flex flex-wrap gap-2">
              <TextInput
                type="search"
                aria-label="Find questions"
                placeholder="Find by words"
                className="min-w-40 flex-1"
                value={search}
                onChange={(event) => setSearch(event.target.value)}
              />
              <Choice
                aria-label="Only this skill"
                className="w-auto! max-w-48"
                value={skill}
                onChange={(event) => setSkill(event.target.value)}
              >
                <option value="">every skill</option>
                {skills.data?.map((line) => (
                  <option key={line.id}>{line.name}</option>
                ))}
              </Choice>
            </div>
            <Problem error={items.error ?? make.error ?? archive.error} />
            {items.data?.length === 0 && (
              <Empty
                title={search || skill ? "No question holds these words." : "The bank is empty."}
                action={<div className="flex gap-3">{buttons}</div>}
              >
                {search || skill
                  ? "Try fewer words, or another skill."
                  : "Write a question once and use it for years. Say what each wrong option would show, and the findings will say it back to you."}
              </Empty>
            )}
            <ul>
              {items.data?.map((item) => (
                <ItemLine key={item.id} item={item} open={item.id === itemId} />
              ))}
            </ul>
          </>
        }
        recto={
          itemId ? (
            <ItemEditor key={itemId} itemId={itemId} onArchive={() => archive.mutate(itemId)} />
          ) : (
            <Empty title="Choose a question.">Pick one on the left to read or change it, or write a new one.</Empty>
          )
        }
      />
    </Page>
  );
}

export function useItems(search: string, skill: string) {
  return useQuery({
    queryKey: ["items", search, skill],
    queryFn: () => read(api.GET("/api/items", { params: { query: { search, skill } } })),
    placeholderData: keepPreviousData,
  });
}

function ItemLine({ item, open }: { item: Schemas["ItemPage"]; open: boolean }) {
  return (
    <li
      className={`border-b border-hairline border-l-3 ${open ? "border-l-iris bg-iris-wash" : "border-l-transparent"}`}
    >
      <Link to={`/bank/${item.id}`} className="block px-3 py-2.5" aria-current={open}>
        <span className="line-clamp-2 font-serif leading-snug">{item.content.stem || "A question without text"}</span>
        <span className="mt-0.5 block text-sm text-graphite">
          {item.skills.join(", ") || "no skill yet"} · {KINDS[item.content.kind].name.toLowerCase()} ·{" "}
          {many(item.content.marks ?? 1, "mark")}
          {item.problems.length > 0 && <span className="text-ochre"> · ◐ not finished</span>}
        </span>
      </Link>
    </li>
  );
}
