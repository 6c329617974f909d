import { t } from "@lingui/core/macro";
import { useMutation } from "@tanstack/react-query";
import { type RefObject, useState } from "react";
import { fileFrom } from "../api/client";
import { Button } from "./button";
import { dataAddress, saveBlob } from "./files";
import { Menu } from "./menu";
import { pngOf, svgOf } from "./picture";

type Props = {
  /** What the files are called. */
  name: string;
  /** Where the chart stands. */
  of: RefObject<HTMLElement | null>;
  /** The address of the tables in a format: the server makes them from the query of the page. */
  file: (form: string) => string;
  /** A file that the server makes of more than the page shows. */
  more?: { name: string; says: string; address: string };
  /** Whether documents take the page's chart along; not where the server has none to put it with. */
  charted?: boolean;
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
/** Documents to read have the chart of the page. */
const READ: ReadonlySet<string> = new Set(["docx", "pdf", "zip"]);

/** A look as pictures, tables and documents: figures from the server, the chart as it is on the screen. */
export function SaveView({ name, of, file, more, charted = false }: Props) {
  const [failed, setFailed] = useState("");
  const chart = () => of.current?.querySelector<SVGSVGElement>("svg[role=img]") ?? null;
  const picture = async (kind: "svg" | "png") => {
    const found = chart();
    if (!found) return setFailed(t`There is no chart on this page to save; the table can be.`);
    setFailed("");
    const svg = await svgOf(found);
    saveBlob(`${name}.${kind}`, kind === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await pngOf(svg));
  };
  const write = useMutation({
    mutationFn: async ({ kind, ending }: { kind: string; ending: string }) => {
      const drawn = chart();
      const data = drawn ? await dataAddress(await pngOf(await svgOf(drawn))) : "";
      const body = { picture: data.slice(data.indexOf(",") + 1), pictured: drawn?.getAttribute("aria-label") ?? "" };
      saveBlob(`${name}.${ending}`, await fileFrom(file(kind), body));
    },
  });
  const save = (kind: string, ending: string) =>
    charted && READ.has(kind) && chart() ? write.mutate({ kind, ending }) : location.assign(file(kind));
  const busy = write.isPending;
  const error = failed || write.error?.message;
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
            onChoose: () => save("csv", "csv"),
          },
          ...FORMATS.map(([kind, words, says, ending]) => ({
            name: words,
            says,
            onChoose: () => save(kind, ending),
          })),
          { name: t`For a program`, says: "JSON", onChoose: () => save("json", "json") },
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
