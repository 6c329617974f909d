import { type RefObject, useState } from "react";
import { Button } from "./button";
import { saveBlob } from "./files";
import { Menu } from "./menu";
import { pngOf, svgOf } from "./picture";
import { csv, tableRows } from "./rows";

type Props = {
  /** What the files are called. */
  name: string;
  /** Where the chart and its tables stand. */
  of: RefObject<HTMLElement | null>;
  /** All lines, where the screen shows only some of them. */
  rows?: () => string[][];
};

/** A look as a picture and as a table, to put into a letter or a spreadsheet. */
export function SaveView({ name, of, rows }: Props) {
  const [failed, setFailed] = useState("");
  const chart = () => of.current?.querySelector<SVGSVGElement>("svg[role=img]") ?? null;
  const all = () => rows?.() ?? tableRows(of.current);
  const picture = async (kind: "svg" | "png") => {
    const found = chart();
    if (!found) return setFailed("There is no chart on this page to save; the table can be.");
    setFailed("");
    const svg = await svgOf(found);
    saveBlob(`${name}.${kind}`, kind === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await pngOf(svg));
  };
  return (
    <>
      <Menu
        trigger={<Button>Save</Button>}
        choices={[
          { name: "Picture to print", says: "SVG", onChoose: () => picture("svg") },
          { name: "Picture to paste", says: "PNG", onChoose: () => picture("png") },
          {
            name: "Table",
            says: "CSV",
            onChoose: () => saveBlob(`${name}.csv`, new Blob([csv(all())], { type: "text/csv" })),
          },
          { name: "Print the page", onChoose: () => setTimeout(print) },
        ]}
      />
      {failed && (
        <span role="alert" className="text-sm text-clay">
          {failed}
        </span>
      )}
    </>
  );
}
