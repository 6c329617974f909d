import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { AskInRoom } from "../ui/ask-in-room";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { useNewOne } from "../ui/new-one";
import { Empty, Line, Page } from "../ui/split-page";
import { dayOf } from "../ui/words";

export function Tests() {
  const [open, setOpen] = useNewOne();
  const [describing, setDescribing] = useState(false);
  const [away, setAway] = useState(false);
  const client = useQueryClient();
  const tests = useQuery({
    queryKey: ["tests", away],
    queryFn: () => read(api.GET("/api/v1/tests", { params: { query: { archived: away } } })),
  });
  const restore = useMutation({
    mutationFn: (id: number) =>
      read(api.POST("/api/v1/tests/{test_id}/restore", { params: { path: { test_id: id } } })),
    onSuccess: () => changed(client, "tests"),
  });
  const add = <Button variant="main" keyHint="N" onClick={() => setOpen(true)}>{t`New test`}</Button>;
  return (
    <Page
      title={t`Tests`}
      actions={
        <>
          <ButtonLink to="/shelf">{t`From the shelf`}</ButtonLink>
          <Button onClick={() => setDescribing(true)}>{t`Marks only`}</Button>
          {add}
        </>
      }
    >
      <div className="max-w-5xl px-6 py-4">
        <Problem error={tests.error} />
        {away && tests.data?.length === 0 && <p className="py-4 text-graphite">{t`No test is put away.`}</p>}
        {!away && tests.data?.length === 0 && (
          <Empty
            title={t`No test yet.`}
            action={add}
          >{t`A test is questions from the bank in an order. Freeze it when it is done, and give it as often as you like.`}</Empty>
        )}
        {tests.data?.map((test) => {
          const latest = test.editions[0];
          return (
            <Line
              key={test.id}
              margin={
                test.marks_only
                  ? plural(test.questions, { one: "# line", other: "# lines" })
                  : test.pages > 0
                    ? t`lesson, ${test.questions} q.`
                    : plural(test.questions, { one: "# question", other: "# questions" })
              }
              action={
                away ? (
                  <Button onClick={() => restore.mutate(test.id)}>{t`Take it out again`}</Button>
                ) : (
                  !test.marks_only &&
                  latest && (
                    <>
                      <AskInRoom what={{ edition: latest.id }} />
                      <ButtonLink to={`/sittings?new=1&edition=${latest.id}`}>{t`Plan a sitting`}</ButtonLink>
                    </>
                  )
                )
              }
            >
              <Link to={`/tests/${test.id}`} className="font-serif text-lg font-semibold hover:underline">
                {test.title || t`Untitled test`}
              </Link>
              <p className="text-sm text-graphite">
                {test.marks_only
                  ? t`marks only`
                  : latest
                    ? t`edition ${latest.number}, frozen ${dayOf(latest.frozen_at)}`
                    : t`not frozen yet`}
                {test.shared && t` · on the shelf`}
              </p>
            </Line>
          );
        })}
        <Button variant="quiet" className="mt-4" onClick={() => setAway(!away)}>
          {away ? t`Back to the tests in use` : t`Tests put away`}
        </Button>
      </div>
      <NewTest open={open} onClose={() => setOpen(false)} />
      <NewTest marksOnly open={describing} onClose={() => setDescribing(false)} />
    </Page>
  );
}

type NewProps = { open: boolean; onClose: () => void; marksOnly?: boolean };

function NewTest({ open, onClose, marksOnly = false }: NewProps) {
  const [title, setTitle] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => read(api.POST(marksOnly ? "/api/v1/tests/marks-only" : "/api/v1/tests", { body: { title } })),
    onSuccess: (made) => {
      void changed(client, "tests");
      navigate(`/tests/${made.id}`);
    },
  });
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={marksOnly ? t`Marks only` : t`New test`}
      says={marksOnly ? t`A test given and marked elsewhere: say what its marks are for, then enter them.` : ""}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <Field label={marksOnly ? t`Title` : t`Title, as students see it`}>
          {(id) => (
            <TextInput
              id={id}
              autoFocus
              required
              maxLength={200}
              value={title}
              onChange={(event) => setTitle(event.target.value)}
            />
          )}
        </Field>
        <Problem error={make.error} />
        <Button type="submit" variant="main">
          {marksOnly ? t`Describe it` : t`Choose its questions`}
        </Button>
      </form>
    </Dialog>
  );
}
