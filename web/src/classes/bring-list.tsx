import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { ChooseFile } from "../ui/choose-file";
import { Choice, Field, Problem, TextArea } from "../ui/field";
import { base64 } from "../ui/files";
import { ScrollBox } from "../ui/scroll-box";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";

type Sheet = Schemas["ReadSheet"];
type Column = NonNullable<Sheet["columns"][number]>;
type Body = Schemas["ListToBring"];

const COLUMNS: Record<Column, string> = {
  given_name: t`given name`,
  family_name: t`family name`,
  full_name: t`whole name`,
  number: t`student number`,
  desk: t`desk`,
  groups: t`groups`,
  tags: t`tags`,
  extra_time: t`extra time %`,
  email: "e-mail",
  large_print: t`large print`,
  quiet_start: t`quiet start`,
  break_minutes: t`breaks in minutes`,
  read_aloud: t`read aloud`,
  class_name: t`class`,
  guardian_email: t`guardian’s e-mail`,
};
const OUTCOMES: Record<Schemas["PlannedLine"]["outcome"], string> = {
  new: t`+ new`,
  joins: t`+ joins`,
  returns: t`+ comes back`,
  changed: t`± changes`,
  same: t`= as it is`,
  asked: t`? asked for`,
};
const EMPTY: Body = {
  rows: [],
  first_line: 1,
  header: null,
  columns: [],
  students: [],
  wrong: [],
  without_wrong: false,
};

/** A list from a file or a spreadsheet: read, matched, looked at, and only then brought in. */
export function BringList({ page, onDone }: { page: Schemas["ClassPage"]; onDone: () => void }) {
  const [found, setFound] = useState<Schemas["ReadFile"] | null>(null);
  const [sheet, setSheet] = useState<Sheet | null>(null);
  const [roster, setRoster] = useState<Schemas["RosterLine"] | null>(null);
  const readIt = useMutation({
    mutationFn: async (brought: { file?: File; text?: string }) =>
      read(
        api.POST("/api/v1/lists/read", {
          body: {
            name: brought.file?.name ?? "",
            data: brought.file ? await base64(brought.file) : "",
            text: brought.text ?? "",
          },
        }),
      ),
    onSuccess: (file) => {
      setFound(file);
      setSheet(file.sheets[0] ?? null);
      setRoster(file.roster.find((line) => line.name === page.name) ?? file.roster[0] ?? null);
    },
  });
  const body: Body | null = sheet
    ? { ...EMPTY, rows: sheet.rows, first_line: sheet.first_line, header: sheet.header ?? null, columns: sheet.columns }
    : roster
      ? { ...EMPTY, students: roster.students, wrong: roster.wrong }
      : null;
  return (
    <Region name={t`Bring in a list`} remark={<Button variant="quiet" onClick={onDone}>{t`close`}</Button>}>
      <Source onFile={(file) => readIt.mutate({ file })} onText={(text) => readIt.mutate({ text })} />
      <Problem error={readIt.error} />
      {found && found.sheets.length > 1 && (
        <Pick
          label={t`Sheet of the workbook`}
          names={found.sheets.map((sheet) => sheet.name)}
          chosen={sheet?.name}
          onPick={(at) => setSheet(found.sheets[at] ?? null)}
        />
      )}
      {found && found.roster.length > 1 && (
        <Pick
          label={t`Class of the bundle`}
          names={found.roster.map(
            (one) => `${one.name}, ${plural(one.students.length, { one: "# student", other: "# students" })}`,
          )}
          chosen={roster?.name}
          onPick={(at) => setRoster(found.roster[at] ?? null)}
        />
      )}
      {roster && roster.left_out.length > 0 && (
        <p className="mt-3 border-s-2 border-ochre px-3 text-sm text-ochre">{t`◐ Left out, as the bundle says: ${roster.left_out.join("; ")}.`}</p>
      )}
      {sheet && <Matching sheet={sheet} onChange={setSheet} />}
      {body && <Planned page={page} body={body} onDone={onDone} />}
    </Region>
  );
}

function Source({ onFile, onText }: { onFile: (file: File) => void; onText: (text: string) => void }) {
  return (
    <div className="pt-3">
      <ChooseFile
        label={t`File with the class list`}
        accept=".csv,.tsv,.txt,.xlsx,.zip"
        hint={t`CSV, Excel workbook, or OneRoster zip; any columns.`}
        onFile={onFile}
      />
      <Field label={t`Or paste from a spreadsheet`}>
        {(id) => (
          <TextArea
            id={id}
            rows={2}
            placeholder={t`Copy the rows there, paste them here`}
            onPaste={(event) => {
              const text = event.clipboardData.getData("text/plain");
              if (text.trim()) onText(text);
            }}
            onBlur={(event) => event.target.value.trim() && onText(event.target.value)}
          />
        )}
      </Field>
    </div>
  );
}

type PickProps = { label: string; names: string[]; chosen: string | undefined; onPick: (at: number) => void };

function Pick({ label, names, chosen, onPick }: PickProps) {
  return (
    <Field label={label}>
      {(id) => (
        <Choice
          id={id}
          defaultValue={Math.max(
            0,
            names.findIndex((name) => chosen && name.startsWith(chosen)),
          )}
          onChange={(event) => onPick(Number(event.target.value))}
        >
          {names.map((name, at) => (
            <option key={name} value={at}>
              {name}
            </option>
          ))}
        </Choice>
      )}
    </Field>
  );
}

/** The first rows as they stand in the file, with what each column is taken for. */
function Matching({ sheet, onChange }: { sheet: Sheet; onChange: (sheet: Sheet) => void }) {
  const top = sheet.rows.slice(0, (sheet.header ?? 0) + 4);
  const setColumn = (at: number, column: string) =>
    onChange({
      ...sheet,
      // A column is one thing, and one thing is one column.
      columns: sheet.columns.map((old, place) =>
        place === at ? ((column || null) as Column | null) : old === column ? null : old,
      ),
    });
  return (
    <div className="mb-4 overflow-x-auto">
      <p className="mb-1 text-sm font-semibold">{t`What each column is`}</p>
      <table className="border-collapse text-sm">
        <thead>
          <tr>
            {sheet.columns.map((column, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
              <th key={at} scope="col" className="pe-2 pb-1 text-start font-normal">
                <Choice
                  aria-label={t`Column ${letter(at)}`}
                  className="w-30! py-0.5!"
                  value={column ?? ""}
                  onChange={(event) => setColumn(at, event.target.value)}
                >
                  <option value="">{t`left out`}</option>
                  {Object.entries(COLUMNS).map(([name, words]) => (
                    <option key={name} value={name}>
                      {words}
                    </option>
                  ))}
                </Choice>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {top.map((row, at) => (
            <tr
              // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
              key={at}
              className={
                at === sheet.header ? "font-semibold" : at < (sheet.header ?? 0) ? "text-graphite line-through" : ""
              }
            >
              {row.map((cell, place) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
                <td key={place} className="max-w-40 truncate border-t border-hairline py-0.5 pe-2">
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <label className="mt-1 flex items-center gap-2 text-sm">
        {t`Headings stand in`}
        <Choice
          className="w-auto! py-0.5!"
          value={sheet.header ?? ""}
          onChange={(event) =>
            onChange({ ...sheet, header: event.target.value === "" ? null : Number(event.target.value) })
          }
        >
          <option value="">{t`no line`}</option>
          {sheet.rows.slice(0, 12).map((_, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place
            <option key={at} value={at}>
              {t`line ${sheet.first_line + at}`}
            </option>
          ))}
        </Choice>
      </label>
    </div>
  );
}

const letter = (at: number): string =>
  (at >= 26 ? letter(Math.floor(at / 26) - 1) : "") + String.fromCharCode(65 + (at % 26));

/** What would be made, changed and left out, said before anything is. */
function Planned({ page, body, onDone }: { page: Schemas["ClassPage"]; body: Body; onDone: () => void }) {
  const [leaveOut, setLeaveOut] = useState(false);
  const client = useQueryClient();
  const say = useSay();
  const params = { path: { class_id: page.id } };
  const plan = useQuery({
    queryKey: ["list", page.id, body],
    queryFn: () => read(api.POST("/api/v1/classes/{class_id}/list/preview", { params, body })),
    placeholderData: (before) => before,
    retry: false,
  });
  const bring = useMutation({
    mutationFn: () =>
      read(api.POST("/api/v1/classes/{class_id}/list", { params, body: { ...body, without_wrong: leaveOut } })),
    onSuccess: (done) => {
      client.invalidateQueries();
      onDone();
      const count = done.lines.filter((line) => !["same", "asked"].includes(line.outcome)).length;
      say(t`${plural(count, { one: "# student", other: "# students" })} brought in or changed.`);
    },
  });
  if (!plan.data) return <Problem error={plan.error} />;
  const { lines, wrong, not_listed: notListed } = plan.data;
  const does = lines.filter((line) => line.outcome !== "same");
  const count = (outcome: string) => lines.filter((line) => line.outcome === outcome).length;
  const parts: ReactNode[] = [
    count("new") > 0 && t`${count("new")} new`,
    count("joins") > 0 && t`${count("joins")} from another class`,
    count("returns") > 0 && t`${count("returns")} coming back`,
    count("changed") > 0 && t`${count("changed")} changed`,
    count("asked") > 0 && t`${count("asked")} of a colleague’s, who will be asked`,
    count("same") > 0 && t`${count("same")} as they are`,
    wrong.length > 0 && t`${wrong.length} wrong`,
  ].filter(Boolean);
  return (
    <>
      <p className="mb-2 font-serif text-lg font-semibold">{parts.join(", ") || t`Nothing to bring in.`}</p>
      {wrong.length > 0 && (
        <div className="mb-3 border-s-2 border-clay bg-clay-wash px-3 py-2 text-sm">
          <ul>
            {wrong.map((line) => (
              <li key={`${line.line} ${line.column} ${line.says}`}>
                <strong>{t`Line ${line.line}${line.column && t`, column ${line.column}`}`}</strong>: {line.says}
              </li>
            ))}
          </ul>
          <label className="mt-1 flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-[var(--ink)]"
              checked={leaveOut}
              onChange={(event) => setLeaveOut(event.target.checked)}
            />
            {t`leave these lines out and bring in the rest`}
          </label>
        </div>
      )}
      {does.length > 0 && (
        <ScrollBox label={t`What will happen`}>
          <Table
            caption={t`What will happen`}
            heads={[{ label: t`Line`, right: true }, { label: t`Student` }, { label: t`What happens` }]}
          >
            {does.map((line) => (
              <Row key={line.line}>
                <Cell right>{line.line}</Cell>
                <Cell>
                  <span className="font-serif">{line.name}</span>
                </Cell>
                <Cell>
                  {OUTCOMES[line.outcome]}
                  {line.also_in.length > 0 && t` from ${line.also_in.join(", ")}`}
                  {line.changes.length > 0 && ` (${line.changes.join("; ")})`}
                </Cell>
              </Row>
            ))}
          </Table>
        </ScrollBox>
      )}
      {notListed.length > 0 && (
        <p className="mb-3 text-sm text-graphite">{t`Not on this list, and staying: ${notListed.join(", ")}.`}</p>
      )}
      <Problem error={bring.error ?? plan.error} />
      <Button
        variant="main"
        disabled={does.length === 0 || (wrong.length > 0 && !leaveOut) || bring.isPending}
        onClick={() => bring.mutate()}
      >
        {does.length > 0
          ? t`Bring in ${plural(does.length, { one: "# line", other: "# lines" })}`
          : t`Nothing to bring in`}
      </Button>
    </>
  );
}
