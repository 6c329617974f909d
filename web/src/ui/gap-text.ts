import { setFormulasIn } from "./rich";

/** Writes a text into an element with an empty place where each `[a]` stands, and answers with the places by name. */
export function setGaps(element: HTMLElement, html: string): Record<string, HTMLElement> {
  element.innerHTML = html;
  const places: Record<string, HTMLElement> = {};
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  const texts: Text[] = [];
  while (walker.nextNode()) texts.push(walker.currentNode as Text);
  for (const text of texts) {
    const parts: (string | Node)[] = text.data.split(/(\[[a-z]\])/).map((part) => {
      const name = /^\[([a-z])\]$/.exec(part)?.[1];
      if (!name || places[name]) return part;
      const place = document.createElement("span");
      places[name] = place;
      return place;
    });
    if (parts.length > 1) text.replaceWith(...parts);
  }
  setFormulasIn(element, html);
  return places;
}
