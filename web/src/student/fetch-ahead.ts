import { formulasFor } from "../ui/formulas-for";
import { PAGE_FILES, PICTURES } from "./on-this-device";
import type { Paper } from "./steps";

/** Where the pictures of a paper are: those within its words, and those that are answered on. */
function picturesOf(paper: Paper): string[] {
  const within = JSON.stringify(paper).match(/\/pictures\/[\w-]+/g) ?? [];
  const on = paper.items.flatMap(({ item }) =>
    item.kind === "picture_point" && item.picture ? [`/pictures/${item.picture}`] : [],
  );
  return [...new Set([...within, ...on])];
}

const FACES = ["Literata Variable", "Source Sans 3 Variable", "Other Scripts"];

/** Everything a paper needs, while there is a connection: its pictures, the parts of the page that set its formulas and
 * take its answers, the fonts for its letters. Afterwards nothing of it is asked of the server any more. */
export async function fetchAhead(paper: Paper, readAloud: boolean, over: AbortSignal): Promise<void> {
  const text = JSON.stringify(paper);
  const formulas = text.includes("$");
  const parts: Promise<unknown>[] = [];
  if (formulas) parts.push(formulasFor(text));
  if (formulas && readAloud) parts.push(import("./formula-words"));
  if (paper.items.some(({ item }) => item.kind === "written")) parts.push(import("../ui/rich-field"));
  const letters = [...new Set(text)].join("");
  for (const face of FACES)
    for (const weight of [400, 600]) parts.push(document.fonts.load(`${weight} 1em "${face}"`, letters));
  await Promise.allSettled(parts);
  if (formulas) {
    const faces = [...document.fonts].filter(({ family }) => family.includes("KaTeX"));
    await Promise.allSettled(faces.map((face) => face.load()));
  }
  const pictures = picturesOf(paper);
  // One after another, so that what the student does in the meantime is not kept waiting on a slow line.
  for (const picture of pictures) if (!over.aborted) await fetch(picture).catch(() => {});
  await keepFiles(pictures, over);
}

/** Has the service worker keep what was loaded, where there may be one: over https, or on this very machine. */
async function keepFiles(pictures: string[], over: AbortSignal): Promise<void> {
  if (!("serviceWorker" in navigator)) return;
  try {
    const worker = `/join/worker.js?${new URLSearchParams({ page: PAGE_FILES, pictures: PICTURES })}`;
    await navigator.serviceWorker.register(worker, { scope: "/join" });
    await navigator.serviceWorker.ready;
    const loaded = performance.getEntriesByType("resource").map(({ name }) => new URL(name));
    const own = loaded.filter(({ origin, pathname }) => origin === location.origin && pathname.startsWith("/static/"));
    await keepIn(PAGE_FILES, ["/join", ...own.map(({ pathname }) => pathname)], over);
    await keepIn(PICTURES, pictures, over);
  } catch {
    // Without it a paper is still whole as long as its page stays open.
  }
}

async function keepIn(name: string, files: string[], over: AbortSignal): Promise<void> {
  const cache = await caches.open(name);
  for (const file of new Set(files)) {
    if (over.aborted) return;
    // The page itself names the scripts of the newest build.
    if (file === "/join" || !(await cache.match(file))) await cache.add(file).catch(() => {});
  }
}

/** Whether this page comes up again without a connection. */
export const comesUpAgain = (): boolean => "serviceWorker" in navigator && navigator.serviceWorker.controller !== null;
