import { useLayoutEffect, useRef } from "react";

const SMALLEST = 5;
const LARGEST = 96;

/**
 * Text as large as its place allows: the type size of the inner element, on which everything in it depends, is searched
 * by halves until it just fits, whenever the content or the window changes.
 */
export function useFit<T extends HTMLElement>(content: unknown) {
  const outer = useRef<T>(null);
  const inner = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew when what is shown changes
  useLayoutEffect(() => {
    const [place, text] = [outer.current, inner.current];
    if (!place || !text) return;
    const grow = () => {
      let [low, high] = [SMALLEST, LARGEST];
      for (let n = 0; n < 8; n++) {
        const size = (low + high) / 2;
        text.style.fontSize = `${size}px`;
        const fits = text.scrollHeight <= place.clientHeight && text.scrollWidth <= place.clientWidth;
        if (fits) low = size;
        else high = size;
      }
      text.style.fontSize = `${low}px`;
    };
    grow();
    const watch = new ResizeObserver(grow);
    watch.observe(place);
    // A typeface may be asked for only when its first letter is drawn, long after the page was ready.
    document.fonts.addEventListener("loadingdone", grow);
    void document.fonts.ready.then(grow);
    // Pictures and formulas come later than the words.
    const later = new MutationObserver(grow);
    later.observe(text, { childList: true, subtree: true });
    text.addEventListener("load", grow, true);
    return () => {
      watch.disconnect();
      document.fonts.removeEventListener("loadingdone", grow);
      later.disconnect();
      text.removeEventListener("load", grow, true);
    };
  }, [content]);
  return { outer, inner };
}
