import { plural, t } from "@lingui/core/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { ChooseFile } from "../ui/choose-file";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { base64 } from "../ui/files";
import { ScrollBox } from "../ui/scroll-box";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { kindName } from "./kinds";

type Page = Schemas["BroughtPage"];

/** Questions from another system or a spreadsheet: looked at first, then brought in. */
export function BringQuestions({ onClose }: { onClose: () => void }) {
  const [file, setFile] = useState({ name: "", data: "" });
  const [leaveOut, setLeaveOut] = useState(false);
  const client = useQueryClient();
  const say = useSay();
  const look = useMutation({
    mutationFn: async (chosen: File) => {
      const body = { name: chosen.name, data: await base64(chosen), without_wrong: false };
      setFile(body);
      return read(api.POST("/api/v1/items/bring/look", { body }));
    },
  });
  const bring = useMutation({
    mutationFn: () => read(api.POST("/api/v1/items/bring", { body: { ...file, without_wrong: leaveOut } })),
    onSuccess: (done) => {
      client.invalidateQueries();
      onClose();
      say(t`${plural(fresh(done), { one: "# question", other: "# questions" })} brought in.`);
    },
  });
  const found = look.data;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Bring in questions`}
      says={t`A QTI package or item (2.1, 2.2 or 3.0), or a table in CSV or Excel. Nothing is made before you have seen it.`}
    >
      <ChooseFile
        label={t`File with questions`}
        accept=".zip,.xml,.csv,.xlsx"
        hint={t`A table has the headings kind, question, marks, key, A to H, A means to H means, why, skills.`}
        onFile={(chosen) => look.mutate(chosen)}
      />
      <Problem error={look.error ?? bring.error} />
      {found && (
        <>
          <p className="mb-2 font-serif text-lg font-semibold">
            {plural(fresh(found), { one: "# new question", other: "# new questions" })}
            {found.items.length > fresh(found) && t`, ${found.items.length - fresh(found)} as in the bank`}
            {found.wrong.length > 0 && t`, ${found.wrong.length} that cannot be read`}
          </p>
          {found.wrong.length > 0 && (
            <div className="mb-3 border-s-2 border-clay bg-clay-wash px-3 py-2 text-sm">
              <ul>
                {found.wrong.map((wrong) => (
                  <li key={wrong.place + wrong.says}>
                    <strong>{wrong.place}</strong>: {wrong.says}
                  </li>
                ))}
              </ul>
              <Checkbox label={t`leave these out and bring in the rest`} checked={leaveOut} onChange={setLeaveOut} />
            </div>
          )}
          {found.lost.length > 0 && (
            <p className="mb-3 border-s-2 border-ochre px-3 text-sm text-ochre">{t`◐ The file also holds what does not come in: ${found.lost.join("; ")}.`}</p>
          )}
          <ScrollBox label={t`Questions of the file`}>
            <Table
              caption={t`Questions of the file`}
              heads={[{ label: t`Question` }, { label: t`Kind` }, { label: t`What happens` }]}
            >
              {found.items.map((item) => (
                <Row key={item.place}>
                  <Cell>
                    <span className="font-serif">{item.words}</span>
                    {item.lost.map((lost) => (
                      <span key={lost} className="block text-ochre">
                        {t`◐ not carried: ${lost}`}
                      </span>
                    ))}
                  </Cell>
                  <Cell>{kindName(item.kind)}</Cell>
                  <Cell>{item.outcome === "new" ? t`+ new` : t`= as it is`}</Cell>
                </Row>
              ))}
            </Table>
          </ScrollBox>
          <Button
            variant="main"
            disabled={fresh(found) === 0 || (found.wrong.length > 0 && !leaveOut) || bring.isPending}
            onClick={() => bring.mutate()}
          >
            {t`Bring in ${plural(fresh(found), { one: "# question", other: "# questions" })}`}
          </Button>
        </>
      )}
    </Dialog>
  );
}

const fresh = (page: Page) => page.items.filter((item) => item.outcome === "new").length;
