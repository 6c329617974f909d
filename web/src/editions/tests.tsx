import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, read } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextInput } from "../ui/field";
import { useNewOne } from "../ui/new-one";
import { Empty, Line, Page } from "../ui/spread";
import { dayOf, many } from "../ui/words";

export function Tests() {
  const [open, setOpen] = useNewOne();
  const tests = useQuery({ queryKey: ["tests"], queryFn: () => read(api.GET("/api/tests")) });
  const add = (
    <Button look="main" cap="N" onClick={() => setOpen(true)}>
      New test
    </Button>
  );
  return (
    <Page title="Tests" actions={add}>
      <div className="max-w-5xl px-6 py-4">
        <Problem error={tests.error} />
        {tests.data?.length === 0 && (
          <Empty title="No test yet." action={add}>
            A test is questions from the bank in an order. Freeze it when it is done, and give it as often as you like.
          </Empty>
        )}
        {tests.data?.map((test) => {
          const latest = test.editions[0];
          return (
            <Line
              key={test.id}
              margin={many(test.questions, "question")}
              action={latest && <ButtonLink to={`/sittings?new=1&edition=${latest.id}`}>Plan a sitting</ButtonLink>}
            >
              <Link to={`/tests/${test.id}`} className="font-serif text-lg font-semibold hover:underline">
                {test.title || "Untitled test"}
              </Link>
              <p className="text-sm text-graphite">
                {latest ? `edition ${latest.number}, frozen ${dayOf(latest.frozen_at)}` : "not frozen yet"}
              </p>
            </Line>
          );
        })}
      </div>
      <NewTest open={open} onClose={() => setOpen(false)} />
    </Page>
  );
}

function NewTest({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [title, setTitle] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => read(api.POST("/api/tests", { body: { title } })),
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: ["tests"] });
      navigate(`/tests/${made.id}`);
    },
  });
  return (
    <Dialog open={open} onClose={onClose} title="New test">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <Field label="Title, as students see it">
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
        <Button type="submit" look="main">
          Choose its questions
        </Button>
      </form>
    </Dialog>
  );
}
