import katex from "katex";
import "katex/dist/katex.min.css";
import { unitMacros } from "../../../versomark/core/notation/units.js";
import { TEX } from "./tex";

export const options = () => ({ throwOnError: true, trust: false, maxSize: 20, maxExpand: 200, macros: unitMacros() });

/** A formula as it looks; or the place from which it is no TeX, its end where something is missing there. */
export type Drawn = { html: string } | { from: number };

export function drawFormula(tex: string): Drawn {
  try {
    return { html: katex.renderToString(tex, options()) };
  } catch (error) {
    return { from: Math.min(tex.length, (error as { position?: number }).position ?? tex.length) };
  }
}

/** Sets every `$…$` in an element, what has a paragraph to itself larger and in the middle. What is not TeX stays as it was
 * typed. */
export function setFormulas(element: HTMLElement): void {
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  const texts: Text[] = [];
  while (walker.nextNode()) texts.push(walker.currentNode as Text);
  const places: HTMLElement[] = [];
  for (const text of texts) {
    const words = text.data;
    const parts: (string | Node)[] = [];
    let end = 0;
    for (const found of words.matchAll(TEX)) {
      const place = document.createElement("span");
      const block = text.parentElement;
      const displayMode = block?.tagName === "P" && block.textContent?.trim() === found[0];
      try {
        katex.render(found[1] ?? "", place, { ...options(), displayMode });
        places.push(place);
      } catch {
        place.textContent = found[0];
      }
      parts.push(words.slice(end, found.index), place);
      end = found.index + found[0].length;
    }
    if (parts.length > 0) text.replaceWith(...parts, words.slice(end));
  }
  for (const place of places.filter((place) => isWider(place, element))) {
    place.classList.add("wide-formula");
    // So that it can be moved by keys too.
    place.tabIndex = 0;
  }
}

/** A formula breaks after its signs, and a table or a fraction does not: what is wider than its line moves within it. */
function isWider(place: HTMLElement, line: HTMLElement): boolean {
  // What stands in a line has no width of its own; the block around it has.
  while (line.clientWidth === 0 && line.parentElement) line = line.parentElement;
  const pieces = place.querySelectorAll<HTMLElement>(".katex-base");
  return [...pieces].some((piece) => piece.offsetWidth > line.clientWidth);
}
