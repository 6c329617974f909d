import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { type Glance, LastSitting, OpenAndNext, useGlance } from "../ui/at-a-glance";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { ListTools, MANY, SortedBy, useListChoice, useTyped } from "../ui/list-tools";
import { useNewOne } from "../ui/new-one";
import { SeveralBar, SeveralButton, Tick, useSeveral } from "../ui/several";
import { Empty, Page } from "../ui/split-page";
import { useSay } from "../ui/undo";

type SchoolClass = Schemas["ClassLine"];

const SORTED = { name: t`By name`, last: t`Last tested first`, mean: t`Lowest mean first` };
type Sorted = keyof typeof SORTED;

const inOrder: Record<Sorted, (one: Glance | undefined, other: Glance | undefined) => number> = {
  name: () => 0,
  last: (one, other) => (other?.last?.day ?? "").localeCompare(one?.last?.day ?? ""),
  mean: (one, other) => (one?.mean ?? 2) - (other?.mean ?? 2),
};

/** The classes: of each who is in it, what comes next, and how its last sitting went. */
export function Classes() {
  const [open, setOpen] = useNewOne();
  const [away, setAway] = useState(false);
  const { typed, type, holds } = useTyped();
  const [sorted, setSorted] = useListChoice<Sorted>("classes", "name", ["name", "last", "mean"]);
  const several = useSeveral<number>();
  const client = useQueryClient();
  const say = useSay();
  const glance = useGlance("classes");
  const classes = useQuery({
    queryKey: ["classes", away],
    queryFn: () => read(api.GET("/api/v1/classes", { params: { query: { archived: away } } })),
  });
  const put = async (ids: readonly number[], archived: boolean) => {
    const path = (class_id: number) => ({ path: { class_id }, query: { archived } });
    const one = (id: number) => read(api.POST("/api/v1/classes/{class_id}/archive", { params: path(id) }));
    await Promise.all(ids.map(one)).finally(() => changed(client, "classes"));
  };
  const putSeveral = useMutation({
    mutationFn: () => put(several.ticked, !away),
    onSuccess: () => {
      const ids = several.ticked;
      several.end();
      const classes = plural(ids.length, { one: "# class", other: "# classes" });
      say(away ? t`Taken out again: ${classes}.` : t`Put away with all results: ${classes}.`, () => put(ids, away));
    },
  });
  const all = classes.data ?? [];
  const shown = all
    .filter((one) => holds(`${one.name} ${one.owner} ${glance.get(one.id)?.last?.title ?? ""}`))
    .sort((one, other) => inOrder[sorted](glance.get(one.id), glance.get(other.id)));
  const own = shown.filter((one) => !one.owner).map((one) => one.id);
  const add = <Button variant="main" keyHint="N" onClick={() => setOpen(true)}>{t`New class`}</Button>;
  return (
    <Page
      title={t`Classes`}
      facts={all.length > MANY ? plural(all.length, { one: "# class", other: "# classes" }) : ""}
      actions={
        <>
          {all.length > 1 && <SeveralButton several={several} />}
          {add}
        </>
      }
    >
      <div className="px-6 py-4 lg:overflow-y-auto">
        <Problem error={classes.error ?? putSeveral.error} />
        {away && classes.data?.length === 0 && <p className="py-4 text-graphite">{t`No class is put away.`}</p>}
        {!away && classes.data?.length === 0 && (
          <Empty
            title={t`No class yet.`}
            action={add}
          >{t`A class is a list of students with desk numbers. Each student gets a pass to sign in with.`}</Empty>
        )}
        <ListTools
          name={t`Find a class`}
          hint={t`Find by class or test`}
          typed={typed}
          onType={type}
          count={all.length}
        >
          {all.length > 2 && <SortedBy value={sorted} of={SORTED} onChange={setSorted} />}
        </ListTools>
        <SeveralBar several={several} every={own}>
          <Button disabled={several.ticked.length === 0 || putSeveral.isPending} onClick={() => putSeveral.mutate()}>
            {away ? t`Take them out again` : t`Put them away`}
          </Button>
        </SeveralBar>
        {all.length > 0 && shown.length === 0 && <p className="py-3 text-graphite">{t`No class holds these words.`}</p>}
        <ul>
          {shown.map((one) => (
            <ClassRow key={one.id} one={one} line={glance.get(one.id)} several={several} />
          ))}
        </ul>
        <Button variant="quiet" className="mt-4" onClick={() => setAway(!away)}>
          {away ? t`Back to the classes in use` : t`Classes put away`}
        </Button>
      </div>
      <NewClass open={open} onClose={() => setOpen(false)} />
    </Page>
  );
}

type RowProps = { one: SchoolClass; line: Glance | undefined; several: ReturnType<typeof useSeveral<number>> };

function ClassRow({ one, line, several }: RowProps) {
  return (
    <li className="flex items-start gap-x-3 border-b border-hairline py-3">
      {one.owner === "" && <Tick several={several} one={one.id} name={t`Tick ${one.name}`} />}
      <div className="grid min-w-0 flex-1 items-center gap-x-6 gap-y-1 md:grid-cols-[6rem_minmax(0,1fr)_minmax(0,1.4fr)]">
        <span className="text-sm text-graphite">{plural(one.students, { one: "# student", other: "# students" })}</span>
        <div className="min-w-0 wrap-anywhere">
          <Link to={`/classes/${one.id}`} className="font-serif text-lg font-semibold hover:underline">
            {one.name}
          </Link>
          {one.owner && <span className="ms-2 text-sm text-graphite">{t`${one.owner}’s class`}</span>}
          {one.practice && <span className="ms-2 text-sm text-ochre">{t`◐ invented, for practice`}</span>}
          <OpenAndNext line={line} of="classes" />
        </div>
        <LastSitting line={line} of="classes" />
      </div>
    </li>
  );
}

function NewClass({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [name, setName] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => read(api.POST("/api/v1/classes", { body: { name } })),
    onSuccess: (made) => {
      client.invalidateQueries();
      navigate(`/classes/${made.id}`);
    },
  });
  return (
    <Dialog open={open} onClose={onClose} title={t`New class`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <Field label={t`Name of the class`} hint={t`As you say it: 8 Heron, Year 9 set 2, Rhythm Club.`}>
          {(id) => (
            <TextInput
              id={id}
              autoFocus
              required
              maxLength={60}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          )}
        </Field>
        <Problem error={make.error} />
        <Button type="submit" variant="main">{t`Make the class`}</Button>
      </form>
    </Dialog>
  );
}
