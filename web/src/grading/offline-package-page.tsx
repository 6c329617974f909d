import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { Problem } from "../ui/field";
import { Empty, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { amount, many } from "../ui/words";
import { useTitle } from "./use-title";

type Look = Schemas["AwayLook"];

/** Marking away from the desk: take all work along, and look at what comes back before it counts. */
export function AwayPage() {
  const sittingId = Number(useParams().sittingId);
  const path = { sitting_id: sittingId };
  const client = useQueryClient();
  const title = useTitle(sittingId);
  const say = useSay();
  const look = useMutation({
    mutationFn: (file: File) => {
      const body = new FormData();
      body.append("file", file);
      return read(
        api.POST("/api/v1/sittings/{sitting_id}/marking/away/look", {
          params: { path },
          body: body as unknown as { file: string },
          bodySerializer: (form) => form as unknown as FormData,
        }),
      );
    },
  });
  const putIn = useMutation({
    mutationFn: (upload_id: string) =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/marking/away/{upload_id}", {
          params: { path: { ...path, upload_id } },
        }),
      ),
    onSuccess: (done) => {
      void changed(client, "marks");
      look.reset();
      const aside = done.aside ? ` ${many(done.aside, "mark")} kept beside a colleague’s.` : "";
      say(`${many(done.marks, "mark")} and ${many(done.files, "file")} put in.${aside}`);
    },
  });
  const found = look.data;
  return (
    <Page
      title="Away from the desk"
      facts={title}
      actions={<ButtonLink to={`/marking/${sittingId}`}>To the desk</ButtonLink>}
    >
      <SplitPage
        split="even"
        names={{ left: "What comes back", right: "Taking it along" }}
        left={
          <>
            <Problem error={look.error ?? putIn.error} />
            {found ? (
              <Found
                found={found}
                busy={putIn.isPending}
                onPutIn={() => putIn.mutate(found.upload)}
                onDrop={look.reset}
              />
            ) : (
              <Empty
                title={look.isPending ? "Looking through it…" : "Nothing has come back yet."}
                action={
                  <ChooseFile
                    label="The zip or the marks sheet"
                    accept=".zip,.xlsx"
                    words="Choose the zip or the marks sheet"
                    onFile={(file) => look.mutate(file)}
                  />
                }
              >
                You see what of it is new, what stands already and what is not understood. Nothing counts before you say
                so.
              </Empty>
            )}
          </>
        }
        right={
          <Region name="Taking it along">
            <p className="my-3">
              A folder for each student with what they wrote and handed in, and <strong>marks.xlsx</strong> with a sheet
              for each question: points by criterion, and a comment.
            </p>
            <ul className="mb-4 list-disc pl-5 text-sm text-graphite">
              <li>Fill in the sheet. A row without points says nothing.</li>
              <li>
                Write your remarks into the files, and save them where they were. What you did not change is passed
                over.
              </li>
              <li>Pack it all again, or bring back the sheet alone.</li>
            </ul>
            <Button variant="main" onClick={() => location.assign(`/api/v1/sittings/${sittingId}/marking/away/zip`)}>
              Save all work as a zip
            </Button>
          </Region>
        }
      />
    </Page>
  );
}

type FoundProps = { found: Look; busy: boolean; onPutIn: () => void; onDrop: () => void };

function Found({ found, busy, onPutIn, onDrop }: FoundProps) {
  const other = found.marks.filter((mark) => mark.found === "other").length;
  const something = found.marks.length + found.files.length > 0;
  return (
    <>
      <p className="font-serif text-xl leading-snug">
        {something
          ? `${many(found.marks.length - other, "new mark")}${other ? `, ${many(other, "mark")} in place of another` : ""}, ${many(found.files.length, "file")} with remarks.`
          : "Nothing in it is new."}
      </p>
      <p className="mt-1 mb-4 text-sm text-graphite">
        {`${many(found.same, "mark")} stand already; ${many(found.unchanged, "file")} as they went out.`}
      </p>
      <p className="mb-5 flex gap-3">
        <Button variant="main" disabled={busy || !something} onClick={onPutIn}>
          Put them in
        </Button>
        <Button onClick={onDrop}>Another file</Button>
      </p>
      {found.problems.length > 0 && (
        <Region name="Not understood" remark="left as it is">
          <ul className="py-2 text-sm">
            {found.problems.map((problem) => (
              <li key={problem} className="py-0.5 wrap-anywhere text-clay">
                ◆ {problem}
              </li>
            ))}
          </ul>
        </Region>
      )}
      {found.marks.length > 0 && (
        <Region name="Marks">
          <Table
            caption="Marks that came back"
            heads={[
              { label: "No.", right: true },
              { label: "Student" },
              { label: "Question", right: true },
              { label: "Points", right: true },
              { label: "Comment" },
            ]}
          >
            {found.marks.map((mark) => (
              <Row key={`${mark.number} ${mark.question}`} selected={mark.found === "other"}>
                <Cell right>{mark.number}</Cell>
                <Cell>{mark.name}</Cell>
                <Cell right>{mark.question}</Cell>
                <Cell right>
                  {amount(mark.points)} of {amount(mark.of, 0)}
                </Cell>
                <Cell>{mark.comment}</Cell>
              </Row>
            ))}
          </Table>
        </Region>
      )}
      {found.files.length > 0 && (
        <Region name="Files with remarks">
          <ul className="py-2 text-sm">
            {found.files.map((file) => (
              <li key={`${file.number} ${file.file}`} className="py-0.5 wrap-anywhere">
                <span className="text-graphite">
                  {file.name || `No. ${file.number}`}, question {file.question}:
                </span>{" "}
                {file.file}
              </li>
            ))}
          </ul>
        </Region>
      )}
    </>
  );
}
