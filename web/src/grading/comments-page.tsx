import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Choice, Field, Problem, TextArea, TextInput } from "../ui/field";
import { Empty, Page, Region } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { amount, begun } from "../ui/words";

type CommentPageData = Schemas["CommentPage"];
type Line = CommentPageData["comments"][number];
type Body = Schemas["CommentBody"];

/** As they are typed, in every language. */
const PLACES = ["{name}", "{mark}", "{criterion}"] as const;

/** Comments that are used again: one’s own, and those that one’s departments share. */
export function CommentsPage() {
  const client = useQueryClient();
  const say = useSay();
  const found = useQuery({ queryKey: ["comments"], queryFn: () => read(api.GET("/api/v1/comments")) });
  const change = useMutation({
    mutationFn: (make: () => Promise<CommentPageData | unknown>) => make(),
    onSuccess: async (page) => {
      const marks = (page as CommentPageData | null)?.changed ?? 0;
      if (marks > 0)
        say(plural(marks, { one: "# mark says it in the new words.", other: "# marks say it in the new words." }));
      await changed(client, "comments");
    },
  });
  const page = found.data;
  const own = page?.comments.filter((one) => one.mine) ?? [];
  const shared = page?.comments.filter((one) => !one.mine) ?? [];
  return (
    <Page title={t`Your comments`} actions={<ButtonLink to="/marking">{t`Back to marking`}</ButtonLink>}>
      <div className="max-w-4xl px-6 py-4 lg:min-h-0 lg:overflow-y-auto">
        <Problem error={found.error ?? change.error} />
        <p className="mb-4 text-graphite">
          {t`What you say to an answer is offered again by two of its letters. ${PLACES[0]}, ${PLACES[1]} and ${PLACES[2]} are filled in as it is used.`}
        </p>
        {page && (
          <Region name={t`A comment for every question`}>
            <Writing
              key={own.length}
              departments={page.departments}
              materials={page.materials}
              onKeep={(body) => change.mutate(() => read(api.POST("/api/v1/comments", { body })))}
            />
          </Region>
        )}
        {page && own.length === 0 && (
          <Empty title={t`No comment of yours yet.`}>{t`The first ones come as you mark.`}</Empty>
        )}
        {page && own.length > 0 && (
          <Region name={t`Yours`}>
            {own.map((one) => (
              <Own
                key={`${one.id} ${one.text} ${one.department} ${one.every_question} ${one.criterion} ${one.points} ${one.material} ${one.follow_up}`}
                one={one}
                departments={page.departments}
                materials={page.materials}
                onKeep={(body) =>
                  change.mutate(() =>
                    read(api.PUT("/api/v1/comments/{comment_id}", { params: { path: { comment_id: one.id } }, body })),
                  )
                }
                onOut={() =>
                  change.mutate(() =>
                    read(api.DELETE("/api/v1/comments/{comment_id}", { params: { path: { comment_id: one.id } } })),
                  )
                }
              />
            ))}
          </Region>
        )}
        {shared.length > 0 && (
          <Region name={t`Shared by colleagues`}>
            {shared.map((one) => (
              <p key={one.id} className="flex items-baseline gap-3 border-b border-hairline py-2">
                <span dir="auto" className="min-w-0 flex-1 font-serif wrap-anywhere">
                  {one.text}
                </span>
                <span className="text-sm text-graphite">
                  <bdi>{one.by}</bdi> · {one.department_name}
                </span>
              </p>
            ))}
          </Region>
        )}
      </div>
    </Page>
  );
}

type OwnProps = {
  one: Line;
  departments: CommentPageData["departments"];
  materials: CommentPageData["materials"];
  onKeep: (body: Body) => void;
  onOut: () => void;
};

function Own({ one, departments, materials, onKeep, onOut }: OwnProps) {
  const [open, setOpen] = useState(false);
  const about = [
    one.every_question ? t`every question` : t`one question`,
    levelWords(one),
    plural(one.used, { one: "used once", other: "used # times" }),
    one.department_name && t`shared with ${one.department_name}`,
    materials.find((entry) => entry.id === one.material)?.title,
    one.follow_up && t`to try next: ${begun(one.follow_up, 60)}`,
  ]
    .filter(Boolean)
    .join(" · ");
  if (open)
    return (
      <Writing
        one={one}
        departments={departments}
        materials={materials}
        onKeep={onKeep}
        onLeave={() => setOpen(false)}
      />
    );
  return (
    <div className="flex items-baseline gap-3 border-b border-hairline py-2">
      <div className="min-w-0 flex-1">
        <p dir="auto" className="font-serif wrap-anywhere">
          {one.text}
        </p>
        <p className="text-sm text-graphite">{about}</p>
      </div>
      <Button variant="quiet" aria-label={t`Change “${one.text}”`} onClick={() => setOpen(true)}>{t`change`}</Button>
      <AskFirst
        name={t`take out`}
        label={t`Take out “${one.text}”`}
        title={t`Take out this comment?`}
        says={t`It is offered no more, to you or to those who share it. Marks keep its words; what goes with it, to try or to read, is no longer in the results.`}
        does={t`Take it out`}
        onSure={onOut}
      />
    </div>
  );
}

/** “Reasoning: 2, Half of it” */
function levelWords({ criterion, points, levels }: Line): string {
  const level = levels.find((entry) => entry.criterion === criterion && entry.points === points);
  return level ? `${level.name}: ${amount(level.points, level.points % 1 ? 1 : 0)}, ${begun(level.words, 40)}` : "";
}

type WritingProps = {
  one?: Line;
  departments: CommentPageData["departments"];
  materials: CommentPageData["materials"];
  onKeep: (body: Body) => void;
  onLeave?: () => void;
};

function Writing({ one, departments, materials, onKeep, onLeave }: WritingProps) {
  const [text, setText] = useState(one?.text ?? "");
  const [every, setEvery] = useState(one?.every_question ?? true);
  const [department, setDepartment] = useState(one?.department ?? null);
  const [material, setMaterial] = useState(one?.material ?? "");
  const [followUp, setFollowUp] = useState(one?.follow_up ?? "");
  const levels = one?.levels ?? [];
  const [level, setLevel] = useState(
    String(levels.findIndex((entry) => entry.criterion === one?.criterion && entry.points === one.points)),
  );
  return (
    <form
      className="border-b border-hairline py-2"
      onSubmit={(event) => {
        event.preventDefault();
        const with_level = every ? undefined : levels[Number(level)];
        onKeep({
          text,
          every_question: every,
          department,
          criterion: with_level?.criterion ?? "",
          points: with_level?.points ?? null,
          material: material || null,
          follow_up: followUp,
        });
      }}
    >
      <Field
        label={t`Comment`}
        hint={one && one.used > 0 ? t`Marks that no student sees yet say it in the new words.` : undefined}
      >
        {(id) => (
          <TextArea
            id={id}
            required
            rows={2}
            maxLength={400}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </Field>
      <Field
        label={t`A question to try next`}
        hint={t`Students read it below the comment, once their result is released.`}
      >
        {(id) => (
          <TextInput id={id} maxLength={400} value={followUp} onChange={(event) => setFollowUp(event.target.value)} />
        )}
      </Field>
      <div className="flex flex-wrap items-center gap-4">
        {levels.length > 0 && !every && (
          <Choice
            low
            className="w-auto! max-w-full"
            aria-label={t`With which level it is offered`}
            value={level}
            onChange={(event) => setLevel(event.target.value)}
          >
            <option value="-1">{t`with any level`}</option>
            {levels.map((entry, at) => (
              <option key={`${entry.criterion} ${entry.points}`} value={String(at)}>
                {`${entry.name}: ${amount(entry.points, entry.points % 1 ? 1 : 0)}, ${begun(entry.words, 40)}`}
              </option>
            ))}
          </Choice>
        )}
        {materials.length > 0 && (
          <Choice
            low
            className="w-auto! max-w-full"
            aria-label={t`What goes with it`}
            value={material}
            onChange={(event) => setMaterial(event.target.value)}
          >
            <option value="">{t`no material with it`}</option>
            {materials.map((entry) => (
              <option key={entry.id} value={entry.id}>
                {entry.title}
              </option>
            ))}
          </Choice>
        )}
        {one && !one.every_question && (
          <Checkbox label={t`Offer it on every question`} checked={every} onChange={setEvery} />
        )}
        {departments.length > 0 && (
          <Choice
            low
            className="w-auto!"
            aria-label={t`Who is offered it`}
            value={department ?? ""}
            onChange={(event) => setDepartment(event.target.value ? Number(event.target.value) : null)}
          >
            <option value="">{t`for you alone`}</option>
            {departments.map((entry) => (
              <option key={entry.id} value={entry.id}>
                {t`shared with ${entry.name}`}
              </option>
            ))}
          </Choice>
        )}
        <Button type="submit" disabled={!text.trim()}>
          {one ? t`Change it` : t`Add it`}
        </Button>
        {onLeave && <Button variant="quiet" onClick={onLeave}>{t`leave it`}</Button>}
      </div>
    </form>
  );
}
