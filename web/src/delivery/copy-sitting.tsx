import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read } from "../api/client";
import { useClasses } from "../classes/class-choice";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { useSay } from "../ui/undo";
import type { Sitting } from "./use-sitting";

/** The same test, times and rules for other classes, in one go. */
export function CopySitting({ page, onClose }: { page: Sitting; onClose: () => void }) {
  const [chosen, setChosen] = useState<number[]>([]);
  const classes = useClasses();
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const copy = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/copies", {
          params: { path: { sitting_id: page.id } },
          body: { class_ids: chosen },
        }),
      ),
    onSuccess: (made) => {
      void changed(client, "plan");
      say(t`Planned for ${made.map((line) => line.class_name).join(", ")}.`);
      navigate("/sittings");
    },
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`The same for other classes`}
      says={t`Test, times and rules are the same; each class has a code, seats and results of its own.`}
    >
      <div className="mb-4 flex flex-col">
        {classes.data?.map(({ id, name, students }) => (
          <Checkbox
            key={id}
            label={`${name}${id === page.class_id ? t` (once more)` : ""}, ${plural(students, { one: "# student", other: "# students" })}`}
            checked={chosen.includes(id)}
            onChange={(on) => setChosen(on ? [...chosen, id] : chosen.filter((one) => one !== id))}
          />
        ))}
      </div>
      <Problem error={copy.error} />
      <Button variant="main" disabled={chosen.length === 0 || copy.isPending} onClick={() => copy.mutate()}>
        {t`Plan ${plural(chosen.length, { one: "# sitting", other: "# sittings" })}`}
      </Button>
    </Dialog>
  );
}
