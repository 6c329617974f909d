import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Disclosure } from "../ui/disclosure";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { useHistory } from "../ui/history";
import { KeptNote, useKeeping } from "../ui/keeping";
import { plain } from "../ui/rich";
import { RichField } from "../ui/rich-field";
import { keepPictureAddress } from "./pictures";

type Stimulus = Schemas["StimulusPage"];
type Props = { stimulus: string | null; onChange: (stimulus: string | null) => void };

/** The passage, picture or table that a question is about, shared with others. */
export function StimulusPicker({ stimulus, onChange }: Props) {
  const client = useQueryClient();
  const known = useQuery({ queryKey: ["stimuli"], queryFn: () => read(api.GET("/api/v1/stimuli")) });
  const make = useMutation({
    mutationFn: () => read(api.POST("/api/v1/stimuli", { body: { title: "", body: "" } })),
    onSuccess: (made) => {
      client.setQueryData<Stimulus[]>(["stimuli"], (before = []) => [...before, made]);
      onChange(made.id);
    },
  });
  const chosen = known.data?.find((line) => line.id === stimulus);
  return (
    <Disclosure
      name={t`Passage or picture shared with other questions`}
      remark={chosen ? nameOf(chosen) : ""}
      open={stimulus !== null}
    >
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <Choice
          aria-label={t`Passage`}
          className="w-auto! max-w-72"
          value={stimulus ?? ""}
          onChange={(event) => onChange(event.target.value || null)}
        >
          <option value="">{t`none`}</option>
          {known.data?.map((line) => (
            <option key={line.id} value={line.id}>
              {nameOf(line)}
            </option>
          ))}
        </Choice>
        <Button onClick={() => make.mutate()}>{t`Write a new one`}</Button>
      </div>
      <Problem error={make.error ?? known.error} />
      {chosen && <StimulusEditor key={chosen.id} stimulus={chosen} />}
    </Disclosure>
  );
}

const nameOf = (line: Stimulus) => line.title || plain(line.body).slice(0, 60) || t`a passage without text`;

function StimulusEditor({ stimulus }: { stimulus: Stimulus }) {
  const { draft, set } = useHistory(`verso.steps.${stimulus.id}`, { title: stimulus.title, body: stimulus.body });
  const revision = useRef(stimulus.revision);
  const client = useQueryClient();
  const keeping = useKeeping(draft, async (value) => {
    const path = { stimulus_id: stimulus.id };
    const kept = await read(
      api.PUT("/api/v1/stimuli/{stimulus_id}", { params: { path }, body: { ...value, revision: revision.current } }),
    );
    revision.current = kept.revision;
    client.setQueryData<Stimulus[]>(["stimuli"], (before = []) =>
      before.map((line) => (line.id === kept.id ? kept : line)),
    );
  });
  return (
    <>
      <Field label={t`Title`}>
        {(id) => (
          <TextInput
            id={id}
            maxLength={200}
            value={draft.title}
            onChange={(event) => set({ ...draft, title: event.target.value })}
          />
        )}
      </Field>
      <RichField
        label={t`Text of the passage`}
        className="min-h-20 font-serif"
        value={draft.body}
        onPicture={keepPictureAddress}
        onChange={(body) => set((now) => ({ ...now, body }))}
      />
      <p className="mt-1 text-sm text-graphite">
        {stimulus.items > 0 &&
          t`It stands beside ${plural(stimulus.items, { one: "# question", other: "# questions" })}. `}
        <KeptNote keeping={keeping} />
      </p>
    </>
  );
}
