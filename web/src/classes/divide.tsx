import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { useSay } from "../ui/undo";
import { namesIn } from "../ui/words";

type Ranked = { student: number; name: string; says: string };
type Props = {
  classId: number;
  /** In the order to divide by. */
  ranked: Ranked[];
  /** What the order is, such as `total in Unit check`. */
  by: string;
  /** Students who have no place in the order. */
  without?: string[];
  label?: string;
};

const WAYS = { alike: t`of those who are alike`, mixed: t`each with some from everywhere` } as const;
type Way = keyof typeof WAYS;

/** The class divided into groups: so many, alike or mixed, adjusted by hand, kept with the class. */
export function Divide(props: Props) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button disabled={props.ranked.length < 2} onClick={() => setOpen(true)}>
        {props.label ?? t`Make groups`}
      </Button>
      {open && <DivideDialog {...props} onClose={() => setOpen(false)} />}
    </>
  );
}

function DivideDialog({ classId, ranked, by, without = [], onClose }: Props & { onClose: () => void }) {
  const [count, setCount] = useState(Math.min(ranked.length, Math.max(2, Math.round(ranked.length / 6))));
  const [way, setWay] = useState<Way>("alike");
  const [names, setNames] = useState<Record<number, string>>({});
  const [moved, setMoved] = useState<Record<number, number>>({});
  const client = useQueryClient();
  const say = useSay();
  const params = { path: { class_id: classId } };
  const order = ranked.map((one) => one.student);
  const found = useQuery({
    queryKey: ["divided", classId, order, count, way],
    queryFn: () =>
      read(
        api.POST("/api/v1/classes/{class_id}/groups/divided", { params, body: { ranked: order, groups: count, way } }),
      ),
    placeholderData: (before) => before,
  });
  const place = (student: number) => moved[student] ?? found.data?.findIndex((group) => group.includes(student)) ?? 0;
  const groups = Array.from({ length: found.data?.length ?? 0 }, (_, at) => ({
    name: names[at] ?? t`${by}, group ${at + 1}`.slice(-60),
    students: ranked.filter((one) => place(one.student) === at),
  }));
  const keep = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/classes/{class_id}/groups/several", {
          params,
          body: {
            groups: groups
              .filter((group) => group.students.length > 0)
              .map((group) => ({ name: group.name, students: group.students.map((student) => student.student) })),
            made_from: by,
          },
        }),
      ),
    onSuccess: () => {
      void changed(client, "classes");
      say(
        t`${plural(groups.length, { one: "# group", other: "# groups" })} are kept with the class. A sitting can be for one of them.`,
      );
      onClose();
    },
  });
  return (
    <Dialog open wide onClose={onClose} title={t`Make groups`} says={t`In the order of ${by}.`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <div className="grid gap-x-5 sm:grid-cols-2">
          <Field label={t`How many groups`} hint={t`${sizeWords(ranked.length, count)} each.`}>
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={1}
                max={ranked.length}
                required
                value={Number.isNaN(count) ? "" : count}
                onChange={(event) => {
                  setCount(event.target.valueAsNumber);
                  setMoved({});
                }}
              />
            )}
          </Field>
          <Field label={t`Groups`}>
            {(id) => (
              <Choice
                id={id}
                value={way}
                onChange={(event) => {
                  setWay(event.target.value as Way);
                  setMoved({});
                }}
              >
                {Object.entries(WAYS).map(([name, words]) => (
                  <option key={name} value={name}>
                    {words}
                  </option>
                ))}
              </Choice>
            )}
          </Field>
        </div>
        <div className="mb-4 grid max-h-80 gap-4 overflow-y-auto sm:grid-cols-2">
          {groups.map((group, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a group is its number here
            <fieldset key={at} className="min-w-0">
              <legend className="sr-only">{t`Group ${at + 1}`}</legend>
              <TextInput
                aria-label={t`Name of group ${at + 1}`}
                maxLength={60}
                required
                value={group.name}
                onChange={(event) => setNames({ ...names, [at]: event.target.value })}
              />
              <ul className="pt-1 text-sm">
                {group.students.map((student) => (
                  <li key={student.student} className="flex items-center gap-2">
                    <span className="min-w-0 flex-1 truncate font-serif">{student.name}</span>
                    <span className="text-graphite">{student.says}</span>
                    <Choice
                      low
                      className="w-16!"
                      aria-label={t`Group of ${student.name}`}
                      value={at}
                      onChange={(event) => setMoved({ ...moved, [student.student]: Number(event.target.value) })}
                    >
                      {groups.map((_, other) => (
                        // biome-ignore lint/suspicious/noArrayIndexKey: a group is its number here
                        <option key={other} value={other}>
                          {other + 1}
                        </option>
                      ))}
                    </Choice>
                  </li>
                ))}
              </ul>
            </fieldset>
          ))}
        </div>
        {without.length > 0 && (
          <p className="mb-3 text-sm text-graphite">{t`In no group, since they have no place in this order: ${namesIn(without)}`}</p>
        )}
        <Problem error={found.error ?? keep.error} />
        <Button
          type="submit"
          variant="main"
          disabled={keep.isPending || groups.length === 0}
        >{t`Keep the groups`}</Button>
      </form>
    </Dialog>
  );
}

function sizeWords(students: number, groups: number): string {
  const least = Math.floor(students / groups);
  if (!Number.isFinite(least)) return t`So many`;
  return students % groups ? t`${least} or ${least + 1}` : String(least);
}
