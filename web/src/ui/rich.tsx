import { createContext, useContext, useEffect, useRef } from "react";
import { formulasFor } from "./formulas-for";

/** In which language the texts of a test are; none where that is not known, and each text shows by its letters. */
export const ContentLanguage = createContext<string | undefined>(undefined);

type Props = { html: string; inline?: boolean; className?: string };

/** Rich text as the server cleaned it, with its formulas set by KaTeX, which is fetched only where there is one. */
export function Rich({ html, inline = false, className = "" }: Props) {
  const holder = useRef<HTMLElement>(null);
  const lang = useContext(ContentLanguage);
  useEffect(() => {
    const element = holder.current;
    if (!element) return;
    // Written by hand and not through React, since setting the formulas changes the nodes.
    element.innerHTML = html;
    for (const picture of element.querySelectorAll("img")) picture.loading = "lazy";
    return setFormulasIn(element, html);
  }, [html]);
  const props = { className: `rich ${className}`, lang, dir: "auto" as const };
  return inline ? (
    <span {...props} ref={holder} />
  ) : (
    <div {...props} ref={holder as React.RefObject<HTMLDivElement | null>} />
  );
}

/** Sets the formulas of an element that was just written; answers with how to stop when it is written anew. */
export function setFormulasIn(element: HTMLElement, html: string): () => void {
  let stale = false;
  if (html.includes("$")) void formulasFor(html).then(({ setFormulas }) => stale || setFormulas(element));
  return () => {
    stale = true;
  };
}

/** The words of a rich text, for labels and lists. */
export function plain(html: string): string {
  if (!/[<&]/.test(html)) return html;
  const page = new DOMParser().parseFromString(html.replace(/<\/(p|li|td|th|tr)>|<br>/g, "$& "), "text/html");
  for (const picture of page.querySelectorAll("img")) picture.replaceWith(` ${picture.alt} `);
  return (page.body.textContent ?? "").replace(/\s+/g, " ").trim();
}
