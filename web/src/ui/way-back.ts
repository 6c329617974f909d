import { useRef } from "react";

const A_MOMENT = 1000;
/** The button of the menu of which an entry was chosen just now: the entry itself is gone when its sheet closes. */
let chosenFrom: HTMLElement | null = null;

export function noteMenu(trigger: HTMLElement | null): void {
  chosenFrom = trigger;
  setTimeout(() => {
    if (chosenFrom === trigger) chosenFrom = null;
  }, A_MOMENT);
}

export const isLost = () => document.activeElement === null || document.activeElement === document.body;

/** The head of the page: where keys and ears go on when what had the focus is no longer there. */
export function toTheHead(): void {
  document.querySelector<HTMLElement>("main h1")?.focus({ preventScroll: true });
}

/**
 * For a sheet over the page: where the focus was before it came is where it goes when the sheet goes. To the button of
 * the menu that led to it; to the head of the page where a key opened it, or where what led to it is gone.
 */
export function useWayBack(open: boolean) {
  const from = useRef<HTMLElement | null>(null);
  const was = useRef(false);
  // While it is drawn, since a field of the sheet may take the focus as soon as it is there.
  if (open && !was.current) {
    const now = document.activeElement;
    from.current = now instanceof HTMLElement && !isLost() && !now.closest("[role=menu]") ? now : chosenFrom;
  }
  was.current = open;
  return {
    onCloseAutoFocus: (event: Event) => {
      event.preventDefault();
      const back = from.current;
      // What the sheet did may have changed the page: it is drawn by then.
      setTimeout(() => {
        if (!isLost()) return;
        if (back?.isConnected && back.checkVisibility()) back.focus();
        if (isLost()) toTheHead();
      });
    },
  };
}
