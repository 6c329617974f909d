import { t } from "@lingui/core/macro";
import { useMutation } from "@tanstack/react-query";
import { type RefObject, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "./button";
import { dataAddress, saveBlob } from "./files";
import { Menu } from "./menu";
import { pngOf, svgOf } from "./picture";
import { csv, linesOf, type ShownTable, tablesOf, withIdentities } from "./rows";

type Props = {
  /** What the files are called. */
  name: string;
  /** Where the chart and its tables stand. */
  of: RefObject<HTMLElement | null>;
  /** All lines, where the screen shows only some of them. */
  rows?: () => Omit<ShownTable, "caption"> | undefined;
  /** The address of the table in a format, where the server makes it from the query of the page. */
  file?: (form: string) => string;
  /** A file that the server makes of more than the page shows. */
  more?: { name: string; says: string; address: string };
};

const FORMATS = [
  ["xlsx", t`Workbook`, t`XLSX, with filters and colours`, "xlsx"],
  ["ods", t`Workbook, open format`, "ODS", "ods"],
  ["docx", t`Document to go on with`, "DOCX", "docx"],
  ["pdf", t`Document to hand out`, "PDF", "pdf"],
  ["text", t`Plain text`, "TXT", "txt"],
  ["xml", t`For another program`, "XML", "xml"],
  ["zip", t`All of it in parts`, "ZIP", "zip"],
] as const;
type Kind = (typeof FORMATS)[number][0];
const FOR_PROGRAMS: ReadonlySet<Kind> = new Set(["xlsx", "ods", "xml"]);

async function identified(tables: ShownTable[]): Promise<ShownTable[]> {
  const lines = [...new Set(tables.flatMap((table) => table.who ?? []))].filter(Boolean);
  if (lines.length === 0) return tables;
  const known = await read(api.POST("/api/v1/identities", { body: { lines } }));
  return tables.map((table) => withIdentities(table, known));
}

/** A look as pictures, tables and documents: what is shown, filtered and in the order chosen, is what is saved. */
export function SaveView({ name, of, rows, file, more }: Props) {
  const [failed, setFailed] = useState("");
  const chart = () => of.current?.querySelector<SVGSVGElement>("svg[role=img]") ?? null;
  // Nothing yet, while new figures are on their way: then what is seen is what is saved.
  const tables = (): ShownTable[] => {
    const all = rows?.();
    return all ? [{ caption: name, ...all }] : tablesOf(of.current);
  };
  const picture = async (kind: "svg" | "png") => {
    const found = chart();
    if (!found) return setFailed("There is no chart on this page to save; the table can be.");
    setFailed("");
    const svg = await svgOf(found);
    saveBlob(`${name}.${kind}`, kind === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await pngOf(svg));
  };
  const write = useMutation({
    mutationFn: async ({ kind, ending }: { kind: Kind; ending: string }) => {
      // A file for another program says who is who in columns of their own; a page to read has the names as shown.
      const shown = FOR_PROGRAMS.has(kind) ? await identified(tables()) : tables();
      const body = await shownBy(name, of.current, shown, chart());
      const file = await read(api.POST("/api/v1/save/{kind}", { params: { path: { kind } }, body, parseAs: "blob" }));
      saveBlob(`${name}.${ending}`, file as unknown as Blob);
    },
  });
  const table = useMutation({
    mutationFn: async () => {
      const shown = await identified(tables());
      const [only] = shown;
      const lines = rows && only ? [only.heads, ...only.rows] : linesOf(shown);
      saveBlob(`${name}.csv`, new Blob([csv(lines)], { type: "text/csv" }));
    },
  });
  const busy = write.isPending || table.isPending;
  const error = failed || write.error?.message || table.error?.message;
  return (
    <>
      <Menu
        trigger={<Button disabled={busy}>{busy ? t`Writing…` : t`Save`}</Button>}
        choices={[
          { name: t`Picture to print`, says: "SVG", onChoose: () => picture("svg") },
          { name: t`Picture to paste`, says: "PNG", onChoose: () => picture("png") },
          {
            name: t`Table`,
            says: "CSV",
            onChoose: () => (file ? location.assign(file("csv")) : table.mutate()),
          },
          ...FORMATS.map(([kind, words, says, ending]) => ({
            name: words,
            says,
            onChoose: () => (file ? location.assign(file(kind)) : write.mutate({ kind, ending })),
          })),
          ...(file ? [{ name: t`For a program`, says: "JSON", onChoose: () => location.assign(file("json")) }] : []),
          ...(more ? [{ name: more.name, says: more.says, onChoose: () => location.assign(more.address) }] : []),
          { name: t`Print the page`, onChoose: () => setTimeout(print) },
        ]}
      />
      {error && (
        <span role="alert" className="text-sm text-clay">
          {error}
        </span>
      )}
    </>
  );
}

async function shownBy(
  title: string,
  part: HTMLElement | null,
  tables: ShownTable[],
  chart: SVGSVGElement | null,
): Promise<Schemas["PageShown"]> {
  const opening = part?.querySelector("[data-opening]")?.textContent ?? "";
  const about = document.querySelector("main header [data-facts]")?.textContent ?? "";
  const drawn = chart ? await dataAddress(await pngOf(await svgOf(chart))) : "";
  return {
    title: title.slice(0, 300),
    about,
    opening,
    tables: tables
      .filter((table) => table.heads.length > 0)
      .map(({ caption, heads, rows }) => ({ caption, heads, rows })),
    picture: drawn.slice(drawn.indexOf(",") + 1),
    pictured: chart?.getAttribute("aria-label") ?? "",
  };
}
