import { useMutation } from "@tanstack/react-query";
import { type RefObject, useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "./button";
import { dataAddress, saveBlob } from "./files";
import { Menu } from "./menu";
import { pngOf, svgOf } from "./picture";
import { csv, linesOf, type ShownTable, tablesOf } from "./rows";

type Props = {
  /** What the files are called. */
  name: string;
  /** Where the chart and its tables stand. */
  of: RefObject<HTMLElement | null>;
  /** All lines, where the screen shows only some of them. */
  rows?: () => string[][];
  /** A file that the server makes of more than the page shows. */
  more?: { name: string; says: string; address: string };
};

const FORMATS = [
  ["xlsx", "Workbook", "XLSX, with filters and colours", "xlsx"],
  ["ods", "Workbook, open format", "ODS", "ods"],
  ["docx", "Document to go on with", "DOCX", "docx"],
  ["pdf", "Document to hand out", "PDF", "pdf"],
  ["text", "Plain text", "TXT", "txt"],
  ["xml", "For another program", "XML", "xml"],
  ["zip", "All of it in parts", "ZIP", "zip"],
] as const;
type Kind = (typeof FORMATS)[number][0];

/** A look as pictures, tables and documents: what is shown, filtered and in the order chosen, is what is saved. */
export function SaveView({ name, of, rows, more }: Props) {
  const [failed, setFailed] = useState("");
  const chart = () => of.current?.querySelector<SVGSVGElement>("svg[role=img]") ?? null;
  // Nothing yet, while new figures are on their way: then what is seen is what is saved.
  const all = () => rows?.() ?? [];
  const tables = (): ShownTable[] => {
    const [heads, ...lines] = all();
    return heads ? [{ caption: name, heads, rows: lines }] : tablesOf(of.current);
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
      const body = await shownBy(name, of.current, tables(), chart());
      const file = await read(api.POST("/api/save/{kind}", { params: { path: { kind } }, body, parseAs: "blob" }));
      saveBlob(`${name}.${ending}`, file as unknown as Blob);
    },
  });
  return (
    <>
      <Menu
        trigger={<Button disabled={write.isPending}>{write.isPending ? "Writing…" : "Save"}</Button>}
        choices={[
          { name: "Picture to print", says: "SVG", onChoose: () => picture("svg") },
          { name: "Picture to paste", says: "PNG", onChoose: () => picture("png") },
          {
            name: "Table",
            says: "CSV",
            onChoose: () =>
              saveBlob(
                `${name}.csv`,
                new Blob([csv(all().length > 0 ? all() : linesOf(tables()))], { type: "text/csv" }),
              ),
          },
          ...FORMATS.map(([kind, words, says, ending]) => ({
            name: words,
            says,
            onChoose: () => write.mutate({ kind, ending }),
          })),
          ...(more ? [{ name: more.name, says: more.says, onChoose: () => location.assign(more.address) }] : []),
          { name: "Print the page", onChoose: () => setTimeout(print) },
        ]}
      />
      {(failed || write.error) && (
        <span role="alert" className="text-sm text-clay">
          {failed || write.error?.message}
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
    tables: tables.filter((table) => table.heads.length > 0),
    picture: drawn.slice(drawn.indexOf(",") + 1),
    pictured: chart?.getAttribute("aria-label") ?? "",
  };
}
