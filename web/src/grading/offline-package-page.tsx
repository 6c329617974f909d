import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
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
import { amount } from "../ui/words";
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
      const aside = done.aside
        ? t` ${plural(done.aside, { one: "# mark", other: "# marks" })} kept beside a colleague’s.`
        : "";
      say(
        t`${plural(done.marks, { one: "# mark", other: "# marks" })} and ${plural(done.files, { one: "# file", other: "# files" })} put in.${aside}`,
      );
    },
  });
  const found = look.data;
  return (
    <Page
      title={t`Away from the desk`}
      of={title}
      actions={<ButtonLink to={`/marking/${sittingId}`}>{t`To the desk`}</ButtonLink>}
    >
      <SplitPage
        split="even"
        names={{ left: t`What comes back`, right: t`Taking it along` }}
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
                title={look.isPending ? t`Looking through it…` : t`Nothing has come back yet.`}
                action={
                  <ChooseFile
                    label={t`The zip or the marks sheet`}
                    accept=".zip,.xlsx"
                    words={t`Choose the zip or the marks sheet`}
                    onFile={(file) => look.mutate(file)}
                  />
                }
              >{t`You see what of it is new, what stands already and what is not understood. Nothing counts before you say so.`}</Empty>
            )}
          </>
        }
        right={
          <Region name={t`Taking it along`}>
            <p className="my-3">
              <Trans>
                A folder for each student with what they wrote and handed in, and <strong>marks.xlsx</strong> with a
                sheet for each question: points by criterion, and a comment.
              </Trans>
            </p>
            <ul className="mb-4 list-disc ps-5 text-sm text-graphite">
              <li>{t`Fill in the sheet. A row without points says nothing.`}</li>
              <li>{t`Write your remarks into the files, and save them where they were. What you did not change is passed over.`}</li>
              <li>{t`Pack it all again, or bring back the sheet alone.`}</li>
            </ul>
            <Button
              variant="main"
              onClick={() => location.assign(`/api/v1/sittings/${sittingId}/marking/away/zip`)}
            >{t`Save all work as a zip`}</Button>
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
          ? t`${plural(found.marks.length - other, { one: "# new mark", other: "# new marks" })}${other ? t`, ${plural(other, { one: "# mark", other: "# marks" })} in place of another` : ""}, ${plural(found.files.length, { one: "# file", other: "# files" })} with remarks.`
          : t`Nothing in it is new.`}
      </p>
      <p className="mt-1 mb-4 text-sm text-graphite">
        {t`${plural(found.same, { one: "# mark", other: "# marks" })} stand already; ${plural(found.unchanged, { one: "# file", other: "# files" })} as they went out.`}
      </p>
      <p className="mb-5 flex gap-3">
        <Button variant="main" disabled={busy || !something} onClick={onPutIn}>{t`Put them in`}</Button>
        <Button onClick={onDrop}>{t`Another file`}</Button>
      </p>
      {found.problems.length > 0 && (
        <Region name={t`Not understood`} remark={t`left as it is`}>
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
        <Region name={t`Marks`}>
          <Table
            caption={t`Marks that came back`}
            heads={[
              { label: t`No.`, right: true },
              { label: t`Student` },
              { label: t`Question`, right: true },
              { label: t`Points`, right: true },
              { label: t`Comment` },
            ]}
          >
            {found.marks.map((mark) => (
              <Row key={`${mark.number} ${mark.question}`} selected={mark.found === "other"}>
                <Cell right>{mark.number}</Cell>
                <Cell>{mark.name}</Cell>
                <Cell right>{mark.question}</Cell>
                <Cell right>{t`${amount(mark.points)} of ${amount(mark.of, 0)}`}</Cell>
                <Cell>{mark.comment}</Cell>
              </Row>
            ))}
          </Table>
        </Region>
      )}
      {found.files.length > 0 && (
        <Region name={t`Files with remarks`}>
          <ul className="py-2 text-sm">
            {found.files.map((file) => (
              <li key={`${file.number} ${file.file}`} className="py-0.5 wrap-anywhere">
                <span className="text-graphite">
                  {t`${file.name || t`No. ${file.number}`}, question ${file.question}:`}
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
