import { type ReactNode, useEffect } from "react";

/** Something that can be done on the page in sight. `head`: it stands at the head of the page, or in a menu there. `to`: where a
 *  link leads; empty for what is done here. */
export type PageAct = { name: string; says: string; head: boolean; to: string; does: () => void };
export type Choice = { name: ReactNode; says?: string; onChoose: () => void; disabled?: boolean };

const menus = new Set<readonly Choice[]>();

/** What stands in a menu of the page can be found by its words, without opening the menu. */
export function useFoundByWords(choices: readonly Choice[]) {
  useEffect(() => {
    menus.add(choices);
    return () => {
      menus.delete(choices);
    };
  }, [choices]);
}

/** Everything that can be pressed on this page: what its menus hold, and its buttons. What stands there once for every
 *  line of a list is not in it: its words would not say of which line. */
export function actsOnThisPage(): PageAct[] {
  const main = document.querySelector("main");
  if (!main) return [];
  const pressed = [...main.querySelectorAll<HTMLElement>("button, header a")].flatMap((element): PageAct[] => {
    const name = wordsOf(element);
    const head = element.closest("header") !== null;
    const usable = element.checkVisibility() && !element.matches(":disabled, [aria-haspopup=menu], [role]");
    const to = element.getAttribute("href") ?? "";
    return usable && /\p{L}/u.test(name) ? [{ name, says: "", head, to, does: () => element.click() }] : [];
  });
  const chosen = [...menus].flat().flatMap((choice): PageAct[] => {
    const { name, says = "", disabled = false, onChoose } = choice;
    return typeof name === "string" && !disabled ? [{ name, says, head: true, to: "", does: onChoose }] : [];
  });
  const all = [...pressed, ...chosen];
  const counts = new Map<string, number>();
  for (const { name } of all) counts.set(name, (counts.get(name) ?? 0) + 1);
  return all.filter(({ name }) => counts.get(name) === 1);
}

/** As it is read aloud, without the key that does the same. */
function wordsOf(element: HTMLElement): string {
  const label = element.getAttribute("aria-label");
  if (label) return label;
  const copy = element.cloneNode(true) as HTMLElement;
  for (const key of copy.querySelectorAll("kbd, svg")) key.remove();
  return copy.textContent?.replace(/\s+/g, " ").trim() ?? "";
}
