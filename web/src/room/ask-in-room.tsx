import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { useClasses } from "../classes/class-choice";
import type { AskInRoomProps } from "../ui/ask-in-room";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Disclosure } from "../ui/disclosure";
import { Field, Problem, TextInput } from "../ui/field";
import { SegmentedControl } from "../ui/segmented-control";
import { useSay } from "../ui/undo";

type Pace = Schemas["Start"]["pace"];

const PACES: Record<Pace, string> = { together: t`Question by question`, alone: t`At their own pace` };

/** Two clicks to a lesson: this, and the class. Or set up ahead, for one class or several. */
export function AskInRoom({ what, label = t`Ask in the room` }: AskInRoomProps) {
  const [open, setOpen] = useState(false);
  const [pace, setPace] = useState<Pace>("together");
  const client = useQueryClient();
  const navigate = useNavigate();
  const classes = useClasses(open);
  const refresh = () => {
    void changed(client, "plan");
    setOpen(false);
  };
  const start = useMutation({
    mutationFn: (class_id: number) => read(api.POST("/api/v1/room", { body: { ...what, pace, class_id } })),
    onSuccess: (page) => {
      refresh();
      client.setQueryData(["room", page.sitting], page);
      navigate(`/sittings/${page.sitting}`);
    },
  });
  return (
    <>
      <Button onClick={() => setOpen(true)}>{label}</Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        title={t`Ask in the room`}
        says={t`With which class? Its door opens at once.`}
      >
        <SegmentedControl label={t`Pace`} value={pace} options={PACES} onChange={setPace} />
        <Problem error={start.error} />
        <ul className="flex flex-col gap-2">
          {classes.data?.map((line) => (
            <li key={line.id}>
              <Button
                className="w-full"
                disabled={start.isPending || line.students === 0}
                onClick={() => start.mutate(line.id)}
              >
                {line.name}{" "}
                <span className="font-normal text-graphite">
                  {plural(line.students, { one: "# student", other: "# students" })}
                </span>
              </Button>
            </li>
          ))}
        </ul>
        {classes.data && classes.data.length > 0 && (
          <div className="mt-4">
            <Disclosure name={t`Set it up ahead instead`}>
              <Ahead what={{ ...what, pace }} classes={classes.data} onDone={refresh} />
            </Disclosure>
          </div>
        )}
        {classes.data?.length === 0 && (
          <p>
            {t`There is no class yet.`} <ButtonLink to="/classes?new=1" variant="main">{t`Make a class`}</ButtonLink>
          </p>
        )}
      </Dialog>
    </>
  );
}

type AheadProps = {
  what: Omit<Schemas["Start"], "class_id">;
  classes: { id: number; name: string }[];
  onDone: () => void;
};

/** A lesson for each of several classes, ready when they walk in. */
function Ahead({ what, classes, onDone }: AheadProps) {
  const [chosen, setChosen] = useState<number[]>([]);
  const [when, setWhen] = useState("");
  const navigate = useNavigate();
  const say = useSay();
  const setUp = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/room/ahead", {
          body: { ...what, class_ids: chosen, planned_for: when ? new Date(when).toISOString() : null },
        }),
      ),
    onSuccess: (made) => {
      onDone();
      say(t`Set up for ${made.map((line) => line.class_name).join(", ")}.`);
      const [only] = made;
      navigate(only && made.length === 1 ? `/sittings/${only.sitting}` : "/sittings");
    },
  });
  return (
    <form
      className="pt-1"
      onSubmit={(event) => {
        event.preventDefault();
        setUp.mutate();
      }}
    >
      <fieldset className="mb-3">
        <legend className="mb-1 text-sm font-semibold">{t`Classes, one after another`}</legend>
        <div className="flex flex-wrap gap-x-5">
          {classes.map(({ id, name }) => (
            <Checkbox
              key={id}
              label={name}
              checked={chosen.includes(id)}
              onChange={(on) => setChosen(on ? [...chosen, id] : chosen.filter((one) => one !== id))}
            />
          ))}
        </div>
      </fieldset>
      <Field label={t`When`} hint={t`Leave it empty to open the door when you say.`}>
        {(id) => (
          <TextInput id={id} type="datetime-local" value={when} onChange={(event) => setWhen(event.target.value)} />
        )}
      </Field>
      <Problem error={setUp.error} />
      <Button type="submit" variant="main" disabled={chosen.length === 0 || setUp.isPending}>
        {chosen.length > 1 ? t`Set up for ${chosen.length} classes` : t`Set it up`}
      </Button>
    </form>
  );
}
