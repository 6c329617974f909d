import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { api, read } from "../api/client";
import { ClassChoice, useClasses } from "../classes/class-choice";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { many } from "../ui/words";

/** Which test, which class, when. */
export function NewSitting({ onClose }: { onClose: () => void }) {
  const [params] = useSearchParams();
  const [edition, setEdition] = useState(params.get("edition") ?? "");
  const [classId, setClassId] = useState(params.get("class") ?? "");
  const [when, setWhen] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const editions = useQuery({ queryKey: ["editions"], queryFn: () => read(api.GET("/api/editions")) });
  const classes = useClasses();
  const plan = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/sittings", {
          body: {
            edition: Number(edition),
            class_id: Number(classId),
            planned_for: when ? new Date(when).toISOString() : null,
          },
        }),
      ),
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: ["sittings"] });
      client.invalidateQueries({ queryKey: ["desk"] });
      navigate(`/sittings/${made.id}`);
    },
  });
  const nothing = editions.data?.length === 0 ? "/tests?new=1" : classes.data?.length === 0 ? "/classes?new=1" : null;
  return (
    <Dialog
      open
      onClose={onClose}
      title="New sitting"
      says="Online, in class: each student joins with the code on the board and their pass."
    >
      {nothing ? (
        <p>
          {nothing.startsWith("/tests") ? "No test is frozen yet. " : "There is no class yet. "}
          <ButtonLink to={nothing} look="main">
            {nothing.startsWith("/tests") ? "Make a test" : "Make a class"}
          </ButtonLink>
        </p>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            plan.mutate();
          }}
        >
          <Field label="Test">
            {(id) => (
              <Choice id={id} required value={edition} onChange={(event) => setEdition(event.target.value)}>
                <option value="">choose…</option>
                {editions.data?.map((line) => (
                  <option key={line.id} value={line.id}>
                    {line.title}, edition {line.number} ({many(line.questions, "question")})
                  </option>
                ))}
              </Choice>
            )}
          </Field>
          <ClassChoice value={classId} onChange={setClassId} />
          <Field label="When" hint="Leave it empty to open it when you say.">
            {(id) => (
              <TextInput id={id} type="datetime-local" value={when} onChange={(event) => setWhen(event.target.value)} />
            )}
          </Field>
          <Problem error={plan.error} />
          <Button type="submit" look="main" disabled={plan.isPending}>
            Plan the sitting
          </Button>
        </form>
      )}
    </Dialog>
  );
}
