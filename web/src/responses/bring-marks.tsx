import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { base64 } from "../ui/files";
import { useSay } from "../ui/undo";

type Props = { sittingId: number; onClose: () => void; onBrought: (page: Schemas["MarksPage"]) => void };

/** Marks from a spreadsheet: looked at first, then brought in. */
export function BringMarks({ sittingId, onClose, onBrought }: Props) {
  const [file, setFile] = useState<Schemas["TableIn"]>({ name: "", data: "", text: "" });
  const client = useQueryClient();
  const say = useSay();
  const params = { path: { sitting_id: sittingId } };
  const look = useMutation({
    mutationFn: async (chosen: File) => {
      const body = { name: chosen.name, data: await base64(chosen), text: "" };
      setFile(body);
      return read(api.POST("/api/v1/sittings/{sitting_id}/marks/table/look", { params, body }));
    },
  });
  const bring = useMutation({
    mutationFn: async () => {
      const done = await read(api.POST("/api/v1/sittings/{sitting_id}/marks/table", { params, body: file }));
      onBrought(await read(api.GET("/api/v1/sittings/{sitting_id}/marks", { params })));
      return done;
    },
    onSuccess: (done) => {
      void changed(client, "marks of a test given elsewhere", "marks");
      onClose();
      say(t`${plural(done.fresh + done.other, { one: "# mark", other: "# marks" })} brought in.`);
    },
  });
  const found = look.data;
  const count = found ? found.fresh + found.other + found.away : 0;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Bring in marks`}
      says={t`A table in CSV or Excel with a row a student and a column for each label. Nothing is kept before you have seen it.`}
    >
      <ChooseFile
        label={t`Table of marks`}
        accept=".csv,.tsv,.txt,.xlsx"
        hint={t`“Save” gives the table to fill in. A and E stand for absent and excused; empty cells change nothing.`}
        onFile={(chosen) => look.mutate(chosen)}
      />
      <Problem error={look.error ?? bring.error} />
      {found && (
        <>
          <p className="mb-2 font-serif text-lg font-semibold">
            {t`${plural(found.fresh, { one: "# new mark", other: "# new marks" })} for ${plural(found.students, { one: "# student", other: "# students" })}`}
            {found.other > 0 && t`, ${found.other} in place of another`}
            {found.same > 0 && t`, ${found.same} as here`}
            {found.away > 0 && t`, ${found.away} away`}
          </p>
          {found.refused.length > 0 && (
            <Problem
              error={{
                message: t`${plural(found.refused.length, { one: "# thing", other: "# things" })} that cannot be taken:`,
                problems: found.refused.slice(0, 20),
              }}
            />
          )}
          {found.missing.length > 0 && (
            <p className="text-sm text-graphite">{t`Without a column in the table: ${found.missing.join(", ")}.`}</p>
          )}
          {found.unknown.length > 0 && (
            <p className="text-sm text-graphite">{t`Columns that are not of this test: ${found.unknown.join(", ")}.`}</p>
          )}
          <div className="mt-4 flex justify-end">
            <Button variant="main" disabled={count === 0 || bring.isPending} onClick={() => bring.mutate()}>
              {count === 0 ? t`Nothing to bring in` : t`Bring them in`}
            </Button>
          </div>
        </>
      )}
    </Dialog>
  );
}
