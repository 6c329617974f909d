import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { useClasses } from "../classes/class-choice";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { many } from "../ui/words";

type Props = { what: Pick<Schemas["Start"], "test" | "edition" | "item">; label?: string };

/** Two clicks to a lesson: this, and the class. */
export function AskInRoom({ what, label = "Ask in the room" }: Props) {
  const [open, setOpen] = useState(false);
  const client = useQueryClient();
  const navigate = useNavigate();
  const classes = useClasses(open);
  const start = useMutation({
    mutationFn: (class_id: number) => read(api.POST("/api/room", { body: { ...what, class_id } })),
    onSuccess: (page) => {
      for (const key of ["sittings", "desk", "tests", "editions"]) client.invalidateQueries({ queryKey: [key] });
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
        title="Ask in the room"
        says="With which class? Its door opens at once."
      >
        <Problem error={start.error} />
        <ul className="flex flex-col gap-2">
          {classes.data?.map((line) => (
            <li key={line.id}>
              <Button
                className="w-full"
                disabled={start.isPending || line.students === 0}
                onClick={() => start.mutate(line.id)}
              >
                {line.name} <span className="font-normal text-graphite">{many(line.students, "student")}</span>
              </Button>
            </li>
          ))}
        </ul>
        {classes.data?.length === 0 && (
          <p>
            There is no class yet.{" "}
            <ButtonLink to="/classes?new=1" look="main">
              Make a class
            </ButtonLink>
          </p>
        )}
      </Dialog>
    </>
  );
}
