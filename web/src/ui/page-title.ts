import { type RefObject, useEffect } from "react";

/**
 * Calls the window after the heading of its page and the stage of the job it belongs to, so that of ten open tabs each is
 * told from the others, and whoever hears the page knows that another one has come. Runs after every drawing, since a
 * heading is there only once its data is.
 */
export function usePageTitle(heading: RefObject<HTMLElement | null>, of = ""): void {
  useEffect(() => {
    const title = heading.current?.textContent?.trim() ?? "";
    const stage = document.querySelector("[data-stages] [aria-current=page]")?.textContent?.trim() ?? "";
    const parts = [...new Set([of, title, stage, "Verso Mark"])];
    document.title = parts.filter(Boolean).join(" · ");
  });
}
