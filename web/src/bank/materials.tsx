import { t } from "@lingui/core/macro";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { Button, ButtonLink } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { Choice, Field, Problem, TextArea, TextInput } from "../ui/field";
import { base64 } from "../ui/files";
import { Chip, Empty, Line, Page, Region, SplitPage } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { WordPicker } from "../ui/word-picker";

type Material = Schemas["MaterialLine"];
type Body = Schemas["MaterialBody"];
const KINDS: Record<Body["kind"] & string, string> = {
  explanation: t`an explanation`,
  practice: t`practice`,
  "to see": t`something to see`,
  "to do": t`something to do`,
};
const BLANK: Body = { kind: "explanation", title: "", note: "", link: "", skills: [], keywords: [] };

/** The teacher's own shelf: what helps with a skill, offered wherever that skill is weak. */
export function Materials() {
  const [search, setSearch] = useState("");
  const [chosen, setChosen] = useState<string | "new" | null>(null);
  const found = useQuery({
    queryKey: ["materials", search],
    queryFn: () => read(api.GET("/api/v1/materials", { params: { query: { search } } })),
    placeholderData: keepPreviousData,
  });
  const material = found.data?.find((one) => one.id === chosen);
  return (
    <Page
      title={t`Materials`}
      facts={t`offered beside every weak skill, on feedback sheets and to the student`}
      actions={
        <>
          <ButtonLink to="/bank">{t`Questions`}</ButtonLink>
          <Button variant="main" onClick={() => setChosen("new")}>{t`New material`}</Button>
        </>
      }
    >
      <SplitPage
        split="even"
        names={{ left: t`Materials`, right: t`One of them` }}
        left={
          <>
            <TextInput
              type="search"
              aria-label={t`Find a material`}
              placeholder={t`a word of it, a skill, a keyword`}
              value={search}
              onChange={(event) => setSearch(event.target.value)}
            />
            <Problem error={found.error} />
            {found.data?.length === 0 && (
              <Empty title={search ? t`Nothing fits.` : t`The shelf is empty.`}>
                {search
                  ? t`Try another word.`
                  : t`Put an explanation, practice, something to see or to do here, and say which skill it helps with. Whoever is weak in that skill is offered it.`}
              </Empty>
            )}
            {found.data?.map((one) => (
              <Line key={one.id} margin={one.kind}>
                <button
                  type="button"
                  className="text-start font-serif hover:underline"
                  onClick={() => setChosen(one.id)}
                >
                  {one.title}
                </button>
                <span className="ms-2 text-sm text-graphite">
                  {[one.link && t`link`, one.file && t`file`].filter(Boolean).join(", ")}
                </span>
                <span className="mt-1 flex flex-wrap gap-1">
                  {one.skills?.map((skill) => (
                    <Chip key={skill}>{skill}</Chip>
                  ))}
                </span>
              </Line>
            ))}
          </>
        }
        right={
          chosen === "new" || material ? (
            <MaterialForm
              key={chosen ?? ""}
              {...(material && { material })}
              onKept={(kept) => setChosen(kept.id)}
              onGone={() => setChosen(null)}
            />
          ) : (
            <Empty
              title={t`Choose one, or add one.`}
            >{t`What you keep here is yours; students get only what helps them.`}</Empty>
          )
        }
      />
    </Page>
  );
}

type FormProps = { material?: Material; onKept: (kept: Material) => void; onGone: () => void };

function MaterialForm({ material, onKept, onGone }: FormProps) {
  const [body, setBody] = useState<Body>(material ?? BLANK);
  const client = useQueryClient();
  const say = useSay();
  const skills = useQuery({ queryKey: ["skills"], queryFn: () => read(api.GET("/api/v1/skills")) });
  const refresh = () => changed(client, "materials");
  const path = { material_id: material?.id ?? "" };
  const keep = useMutation({
    mutationFn: () => {
      const { kind, title, note, link, skills: names, keywords } = body;
      const sent = { kind, title, note, link, skills: names, keywords };
      return material
        ? read(api.PUT("/api/v1/materials/{material_id}", { params: { path }, body: sent }))
        : read(api.POST("/api/v1/materials", { body: sent }));
    },
    onSuccess: async (kept) => {
      await refresh();
      say(t`It is on the shelf.`);
      onKept(kept);
    },
  });
  const attach = useMutation({
    mutationFn: async (file: File | null) =>
      read(
        api.PUT("/api/v1/materials/{material_id}/file", {
          params: { path },
          body: { name: file?.name ?? "", data: file ? await base64(file) : "" },
        }),
      ),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/materials/{material_id}", { params: { path } })),
    onSuccess: async () => {
      await refresh();
      onGone();
    },
  });
  const set = (part: Partial<Body>) => setBody({ ...body, ...part });
  return (
    <Region name={material ? material.title : t`New material`}>
      <form
        className="pt-3"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <Field label={t`What it is`}>
          {(id) => (
            <Choice id={id} value={body.kind} onChange={(event) => set({ kind: event.target.value as Body["kind"] })}>
              {Object.entries(KINDS).map(([kind, words]) => (
                <option key={kind} value={kind}>
                  {words}
                </option>
              ))}
            </Choice>
          )}
        </Field>
        <Field label={t`Title`}>
          {(id) => (
            <TextInput
              id={id}
              required
              maxLength={200}
              value={body.title}
              onChange={(event) => set({ title: event.target.value })}
            />
          )}
        </Field>
        <WordPicker
          label={t`Skills it helps with`}
          words={body.skills ?? []}
          known={skills.data?.map((one) => one.name) ?? []}
          onChange={(names) => set({ skills: names })}
          hint={t`Whoever is weak in one of them is offered it.`}
        />
        <Field label={t`Link`}>
          {(id) => (
            <TextInput
              id={id}
              type="url"
              maxLength={1000}
              value={body.link}
              onChange={(event) => set({ link: event.target.value })}
            />
          )}
        </Field>
        <Field label={t`Note`} hint={t`What to do with it, in words for the student.`}>
          {(id) => (
            <TextArea
              id={id}
              rows={3}
              maxLength={4000}
              value={body.note}
              onChange={(event) => set({ note: event.target.value })}
            />
          )}
        </Field>
        <WordPicker
          label={t`Keywords`}
          words={body.keywords ?? []}
          known={[]}
          onChange={(keywords) => set({ keywords })}
          hint={t`For finding it again.`}
        />
        <Problem error={keep.error ?? attach.error ?? remove.error} />
        <p className="flex flex-wrap gap-3">
          <Button type="submit" variant="main" disabled={keep.isPending}>{t`Keep it`}</Button>
          {material && (
            <>
              <ChooseFile
                label={t`File of the material`}
                accept="*/*"
                look="plain"
                words={material.file ? t`Another file` : t`Add a file`}
                onFile={(file) => attach.mutate(file)}
              />
              <AskFirst
                name={t`take it off the shelf`}
                title={t`Take “${material.title}” off the shelf?`}
                says={t`It goes, with its file, from this shelf and from every page that offers it to students.`}
                does={t`Take it off`}
                onSure={() => remove.mutate()}
                busy={remove.isPending}
              />
            </>
          )}
        </p>
        {material?.file && (
          <p className="mt-3 text-sm">
            <a className="underline underline-offset-2" href={`/api/v1/materials/${material.id}/file`} download>
              {material.file}
            </a>{" "}
            <AskFirst
              name={t`without the file`}
              title={t`Take the file away?`}
              says={t`“${material.file}” goes from the shelf and from every page that offers it. What is written about it stays.`}
              does={t`Take it away`}
              onSure={() => attach.mutate(null)}
              busy={attach.isPending}
            />
          </p>
        )}
      </form>
    </Region>
  );
}
