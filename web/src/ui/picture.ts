import { t } from "@lingui/core/macro";
import { dataAddress } from "./files";

/** A chart of the page as a picture of its own: colours and type written out, nothing left to look up. */
export async function svgOf(chart: SVGSVGElement): Promise<string> {
  const copy = chart.cloneNode(true) as SVGSVGElement;
  const { width, height } = chart.viewBox.baseVal;
  const style = getComputedStyle(chart);
  const root = getComputedStyle(document.documentElement);
  const said = (value: string) => value.replace(/var\((--[\w-]+)\)/g, (_, name) => root.getPropertyValue(name).trim());
  for (const part of [copy, ...copy.querySelectorAll("*")]) {
    for (const { name, value } of [...part.attributes])
      if (value.includes("var(")) part.setAttribute(name, said(value));
    part.removeAttribute("class");
  }
  const set = { xmlns: "http://www.w3.org/2000/svg", width, height, "font-size": style.fontSize };
  for (const [name, value] of Object.entries(set)) copy.setAttribute(name, String(value));
  copy.setAttribute("font-family", "'Source Sans 3 Variable', 'Source Sans 3', sans-serif");
  copy.insertAdjacentHTML(
    "afterbegin",
    `<style>${await typeface()}</style><rect width="100%" height="100%" fill="${said("var(--page)")}"/>`,
  );
  return new XMLSerializer().serializeToString(copy);
}

/** Twice as large as on the page, so that it is sharp on paper. */
export async function pngOf(svg: string): Promise<Blob> {
  const picture = new Image();
  picture.src = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  await picture.decode();
  const canvas = document.createElement("canvas");
  canvas.width = picture.naturalWidth * 2;
  canvas.height = picture.naturalHeight * 2;
  canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
  URL.revokeObjectURL(picture.src);
  return new Promise((resolve, reject) =>
    canvas.toBlob((made) => (made ? resolve(made) : reject(new Error(t`This browser makes no pictures.`)))),
  );
}

/** The interface's own typeface, carried along, since a picture cannot ask for one. */
async function typeface(): Promise<string> {
  for (const sheet of document.styleSheets)
    for (const rule of sheet.cssRules) {
      const style = rule instanceof CSSFontFaceRule ? rule.style : null;
      const address = style?.getPropertyValue("src").match(/url\("?([^")]+)"?\)/)?.[1];
      const latin = style?.getPropertyValue("unicode-range").toUpperCase().startsWith("U+0-FF");
      if (!address || !latin || !style?.getPropertyValue("font-family").includes("Source Sans")) continue;
      const file = await (await fetch(new URL(address, sheet.href ?? location.href))).blob();
      return `@font-face{font-family:'Source Sans 3 Variable';font-weight:200 900;src:url(${await dataAddress(file)})}`;
    }
  return "";
}
