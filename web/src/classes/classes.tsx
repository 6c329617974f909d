import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, read } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { useNewOne } from "../ui/new-one";
import { Empty, Line, Page } from "../ui/split-page";

export function Classes() {
  const [open, setOpen] = useNewOne();
  const [away, setAway] = useState(false);
  const classes = useQuery({
    queryKey: ["classes", away],
    queryFn: () => read(api.GET("/api/v1/classes", { params: { query: { archived: away } } })),
  });
  const add = <Button variant="main" keyHint="N" onClick={() => setOpen(true)}>{t`New class`}</Button>;
  return (
    <Page title={t`Classes`} actions={add}>
      <div className="max-w-5xl px-6 py-4">
        <Problem error={classes.error} />
        {away && classes.data?.length === 0 && <p className="py-4 text-graphite">{t`No class is put away.`}</p>}
        {!away && classes.data?.length === 0 && (
          <Empty
            title={t`No class yet.`}
            action={add}
          >{t`A class is a list of students with desk numbers. Each student gets a pass to sign in with.`}</Empty>
        )}
        {classes.data?.map((line) => (
          <Line key={line.id} margin={plural(line.students, { one: "# student", other: "# students" })}>
            <Link to={`/classes/${line.id}`} className="font-serif text-lg font-semibold hover:underline">
              {line.name}
            </Link>
            {line.owner && <span className="ms-2 text-sm text-graphite">{t`${line.owner}’s class`}</span>}
          </Line>
        ))}
        <Button variant="quiet" className="mt-4" onClick={() => setAway(!away)}>
          {away ? t`Back to the classes in use` : t`Classes put away`}
        </Button>
      </div>
      <NewClass open={open} onClose={() => setOpen(false)} />
    </Page>
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
