import katex from "katex";
import "katex/dist/katex.min.css";
import { TEX } from "./tex";

const OPTIONS = { throwOnError: true, trust: false, maxSize: 20, maxExpand: 200 };

/** A formula as it looks; or the place from which it is no TeX, its end where something is missing there. */
export type Drawn = { html: string } | { from: number };

export function drawFormula(tex: string): Drawn {
  try {
    return { html: katex.renderToString(tex, OPTIONS) };
  } catch (error) {
    return { from: Math.min(tex.length, (error as { position?: number }).position ?? tex.length) };
  }
}

/** Sets every `$…$` in an element. What is not TeX stays as it was typed. */
export function setFormulas(element: HTMLElement): void {
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  const texts: Text[] = [];
  while (walker.nextNode()) texts.push(walker.currentNode as Text);
  for (const text of texts) {
    const words = text.data;
    const parts: (string | Node)[] = [];
    let end = 0;
    for (const found of words.matchAll(TEX)) {
      const place = document.createElement("span");
      try {
        katex.render(found[1] ?? "", place, OPTIONS);
      } catch {
        place.textContent = found[0];
      }
      parts.push(words.slice(end, found.index), place);
      end = found.index + found[0].length;
    }
    if (parts.length > 0) text.replaceWith(...parts, words.slice(end));
  }
}
