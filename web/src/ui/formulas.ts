import katex from "katex";
import "katex/dist/katex.min.css";
import { TEX } from "./tex";

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
        katex.render(found[1] ?? "", place, { throwOnError: true, trust: false, maxSize: 20, maxExpand: 200 });
      } catch {
        place.textContent = found[0];
      }
      parts.push(words.slice(end, found.index), place);
      end = found.index + found[0].length;
    }
    if (parts.length > 0) text.replaceWith(...parts, words.slice(end));
  }
}
