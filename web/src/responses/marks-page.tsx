import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { Button, ButtonLink } from "../ui/button";
import { Checkbox } from "../ui/checkbox";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
import { ProgressBar } from "../ui/progress-bar";
import { Empty, Page } from "../ui/split-page";
import { useSay } from "../ui/undo";
import { dayOf, timeOf } from "../ui/words";
import { AddStudent } from "./add-student";
import { BringMarks } from "./bring-marks";
import { presenceOf, type Row } from "./grid";
import { MarksGrid } from "./marks-grid";
import { OwnEntry } from "./own-entry";
import { useMarks } from "./use-marks";

/** A test given and marked elsewhere, for one class: the grid its marks go into. */
export function MarksPage({ sittingId }: { sittingId: number }) {
  const marks = useMarks(sittingId);
  const [onward, setOnward] = useState(() => localStorage.getItem("verso.marks.onward") === "1");
  const [refused, setRefused] = useState<string[]>([]);
  const [bringing, setBringing] = useState(false);
  const { page, rows, keeping } = marks;
  const newest = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/sittings/{sitting_id}/marks/description", { params: { path: { sitting_id: sittingId } } }),
      ),
    onSuccess: marks.reread,
  });
  if (!page)
    return (
      <Page title={t`Marks`}>
        <NoPage error={marks.problem} />
      </Page>
    );
  const { sitting } = page;
  const full = rows.filter((row) => row.state === "handed in").length;
  const away = rows.filter((row) => presenceOf(row) !== "here").length;
  return (
    <Page
      title={sitting.title}
      facts={`${sitting.class_name} · ${plural(page.columns.length, { one: "# column", other: "# columns" })}, ${plural(page.max_total, { one: "# mark", other: "# marks" })}${sitting.opened_at ? t` · given ${dayOf(sitting.opened_at)}` : ""}${sitting.closed_at ? t` · all marks are in` : ""}`}
      actions={
        <>
          <ButtonLink to={`/tests/${sitting.test}`}>{t`The lines`}</ButtonLink>
          {page.columns.every((column) => column.marks === 1) && (
            <ButtonLink to={`/sittings/${sittingId}/one-to-one`}>{t`One to one`}</ButtonLink>
          )}
          <Button onClick={() => setBringing(true)}>{t`Bring in a table`}</Button>
          <SaveMenu sittingId={sittingId} />
          <Finish sitting={sitting} rows={rows} columns={page.columns.length} onDone={marks.reread} />
        </>
      }
    >
      <div className="min-h-0 flex-1 px-6 py-4 lg:overflow-y-auto">
        {page.newer_description && (
          <p className="mb-3 border-s-2 border-ochre bg-ochre-wash px-3 py-2 text-sm">
            {t`The description of this test has changed since.`}{" "}
            <Button className="ms-2" onClick={() => newest.mutate()}>{t`Use it as it is now`}</Button>
          </p>
        )}
        <Problem error={newest.error ?? (keeping.refusal ? { message: keeping.refusal, problems: [] } : null)} />
        <Refused refused={refused} onDone={() => setRefused([])} />
        <OwnEntry sitting={sitting} onDone={marks.reread} />
        {rows.length === 0 ? (
          <Empty
            title={t`${sitting.class_name} has no students yet.`}
            action={<ButtonLink to={`/classes/${sitting.class_id}`} variant="main">{t`Add students`}</ButtonLink>}
          >{t`The grid has a row for everyone on the class list.`}</Empty>
        ) : (
          <>
            <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-1">
              <span className="flex items-center gap-3">
                <span>
                  <Trans>
                    <strong>{full}</strong> of {plural(rows.length - away, { one: "# row", other: "# rows" })} full
                  </Trans>
                  {away > 0 && t`, ${away} away`}
                </span>
                <span className="w-32">
                  <ProgressBar done={full} of={Math.max(1, rows.length - away)} label={t`rows that are full`} />
                </span>
              </span>
              <Kept keeping={keeping} />
              <span className="ms-auto flex items-center gap-3">
                <Checkbox
                  checked={onward}
                  label={t`Move on after each mark`}
                  onChange={(on) => {
                    setOnward(on);
                    localStorage.setItem("verso.marks.onward", on ? "1" : "0");
                  }}
                />
                <Button disabled={!marks.undo} onClick={() => marks.undo?.()}>{t`Undo`}</Button>
                <Button disabled={!marks.redo} onClick={() => marks.redo?.()}>{t`Redo`}</Button>
              </span>
            </div>
            <MarksGrid
              rows={rows}
              columns={page.columns}
              maxTotal={page.max_total}
              onward={onward}
              onChange={marks.change}
              onRefused={setRefused}
              undo={marks.undo}
              redo={marks.redo}
            />
            <AddStudent page={page} onAdded={marks.reread} />
          </>
        )}
      </div>
      {bringing && <BringMarks sittingId={sittingId} onClose={() => setBringing(false)} onBrought={marks.reread} />}
    </Page>
  );
}

function Kept({ keeping }: { keeping: ReturnType<typeof useMarks>["keeping"] }) {
  const words =
    keeping.waiting > 0
      ? keeping.offline
        ? t`◐ no connection: the marks are kept in this browser and go out when it is back`
        : t`keeping…`
      : keeping.at
        ? t`kept ${timeOf(keeping.at)}`
        : "";
  return (
    <span role="status" className={`text-sm ${keeping.offline && keeping.waiting ? "text-ochre" : "text-graphite"}`}>
      {words}
    </span>
  );
}

/** What was pasted and could not stand, by name, until it has been read. */
function Refused({ refused, onDone }: { refused: string[]; onDone: () => void }) {
  if (refused.length === 0) return null;
  return (
    <div className="mb-3 flex items-start gap-4">
      <div className="min-w-0 flex-1">
        <Problem
          error={{
            message: t`${plural(refused.length, { one: "# cell", other: "# cells" })} not taken; the rest is in.`,
            problems: refused.slice(0, 12),
          }}
        />
      </div>
      <Button className="mt-3" onClick={onDone}>{t`I have seen it`}</Button>
    </div>
  );
}

function SaveMenu({ sittingId }: { sittingId: number }) {
  const choices = (["xlsx", "csv"] as const).map((form) => ({
    name: form === "xlsx" ? t`As a workbook` : t`As CSV`,
    onChoose: () => location.assign(`/api/v1/sittings/${sittingId}/marks/file/${form}`),
  }));
  return <Menu trigger={<Button>{t`Save`}</Button>} choices={choices} />;
}

type FinishProps = {
  sitting: Schemas["SittingLine"];
  rows: Row[];
  columns: number;
  onDone: (page: Schemas["MarksPage"]) => void;
};

/** The end of entering: what happens to gaps is said before. */
function Finish({ sitting, rows, columns, onDone }: FinishProps) {
  const [asking, setAsking] = useState(false);
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const path = { path: { sitting_id: sitting.id } };
  const begun = sitting.opened_at !== null;
  const step = useMutation({
    mutationFn: async (to: "close" | "open" | "pause") => {
      await read(
        api.POST("/api/v1/sittings/{sitting_id}/steps/{step}", { params: { path: { ...path.path, step: to } } }),
      );
      return read(api.GET("/api/v1/sittings/{sitting_id}/marks", { params: path }));
    },
    onSuccess: (page, to) => {
      onDone(page);
      setAsking(false);
      void changed(client, "marks of a test given elsewhere", "marks");
      if (to === "close") say(t`All marks are in. They can still be corrected here.`);
    },
  });
  const remove = useMutation({
    mutationFn: () => read(api.DELETE("/api/v1/sittings/{sitting_id}", { params: path })),
    onSuccess: () => {
      void changed(client, "plan");
      navigate("/sittings");
    },
  });
  if (sitting.closed_at) return <ButtonLink to={`/findings/${sitting.id}`} variant="main">{t`Findings`}</ButtonLink>;
  if (!begun)
    return (
      <AskFirst
        name={t`Remove it`}
        title={t`Remove this sitting?`}
        says={t`The grid of marks for ${sitting.class_name} goes, with whatever stands in it. Its test stays.`}
        does={t`Remove the sitting`}
        busy={remove.isPending}
        onSure={() => remove.mutate()}
      />
    );
  const here = rows.filter((row) => presenceOf(row) === "here");
  const gaps = here.filter((row) => {
    const count = Object.keys(row.marks).length;
    return count > 0 && count < columns;
  });
  const none = here.filter((row) => Object.keys(row.marks).length === 0);
  return (
    <>
      <ButtonLink to={`/findings/${sitting.id}`}>{t`Findings so far`}</ButtonLink>
      <Button variant="main" onClick={() => setAsking(true)}>{t`All marks are in…`}</Button>
      <Dialog
        open={asking}
        onClose={() => setAsking(false)}
        title={t`Are all marks in?`}
        says={t`You can still correct a mark afterwards.`}
      >
        <Problem error={step.error} />
        {gaps.length > 0 && (
          <p className="mb-2">
            <Trans>
              {plural(gaps.length, { one: "# row has", other: "# rows have" })} gaps; an empty cell counts as no mark
              earned: <strong>{named(gaps)}</strong>
            </Trans>
          </p>
        )}
        {none.length > 0 && (
          <p className="mb-2">
            <Trans>
              {plural(none.length, { one: "# student has", other: "# students have" })} no marks and will be absent:{" "}
              <strong>{named(none)}</strong>
            </Trans>
          </p>
        )}
        {gaps.length + none.length === 0 && <p className="mb-2">{t`Every row is full or said to be away.`}</p>}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={() => setAsking(false)}>{t`Go on entering`}</Button>
          <Button
            variant="main"
            disabled={step.isPending}
            onClick={() => step.mutate("close")}
          >{t`All marks are in`}</Button>
        </div>
      </Dialog>
    </>
  );
}

const named = (rows: Row[]) =>
  rows.length > 8
    ? t`${rows
        .slice(0, 7)
        .map((row) => row.name)
        .join(", ")} and ${rows.length - 7} more`
    : rows.map((row) => row.name).join(", ");
