export type Stretch = { start: number; end: number; name: string };

/** The letters of an element that are selected, counted over its text; null where nothing of it is. */
export function selectedIn(element: HTMLElement): { start: number; end: number } | null {
  const selection = getSelection();
  if (!selection || selection.isCollapsed || selection.rangeCount === 0) return null;
  const range = selection.getRangeAt(0).cloneRange();
  if (!element.contains(range.startContainer)) return null;
  const whole = document.createRange();
  whole.selectNodeContents(element);
  // Three clicks select a paragraph and the beginning of what comes after it.
  if (range.compareBoundaryPoints(Range.END_TO_END, whole) > 0) range.setEnd(whole.endContainer, whole.endOffset);
  const before = document.createRange();
  before.selectNodeContents(element);
  before.setEnd(range.startContainer, range.startOffset);
  const start = before.toString().length;
  const end = start + range.toString().length;
  return end > start ? { start, end } : null;
}

/** Writes a text into an element and puts each stretch of it in a `mark`; of two that overlap, both are seen. */
export function writeLit(element: HTMLElement, html: string, stretches: Stretch[]): void {
  element.innerHTML = html;
  for (const stretch of stretches) light(element, stretch);
}

function light(element: HTMLElement, { start, end, name }: Stretch): void {
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  const found: [Text, number, number][] = [];
  let at = 0;
  while (walker.nextNode()) {
    const text = walker.currentNode as Text;
    const from = Math.max(start - at, 0);
    const to = Math.min(end - at, text.length);
    if (from < to) found.push([text, from, to]);
    at += text.length;
  }
  for (const [text, from, to] of found) {
    const mark = document.createElement("mark");
    mark.className = "bg-ochre-wash text-ink border-b-2 border-ochre";
    if (name) mark.title = name;
    const part = text.splitText(from);
    part.splitText(to - from);
    part.replaceWith(mark);
    mark.append(part);
  }
}
