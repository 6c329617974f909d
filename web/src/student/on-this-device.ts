import { del, get, set } from "idb-keyval";
import type { SeatPage } from "./api";
import type { When } from "./heard";
import type { Response } from "./kinds/types";
import type { Change } from "./outbox";

/** What a device keeps of a test that has begun, so that it goes on without a connection and after the page was loaded
 * anew. It is forgotten as soon as the student is not at work any more. */

const COPY = "verso.paper";
/** Where the service worker keeps the page with its scripts and fonts, and where the pictures of the paper. */
export const PAGE_FILES = "verso-page";
export const PICTURES = "verso-pictures";

export type Given = { response: Response | null; comeBack: boolean };
type HereSoFar = { sequence: number; given: Record<string, Given> };
type Copy = { page: SeatPage; at: number };

const outboxKey = (seat: number) => `verso.outbox.${seat}`;
const givenKey = (seat: number) => `verso.given.${seat}`;
const handedInKey = (seat: number) => `verso.handed-in.${seat}`;

/** Under which key the answers of a seat wait for the server. */
export { outboxKey };

export const waitingOf = (seat: number): Change[] => JSON.parse(localStorage.getItem(outboxKey(seat)) ?? "[]");

/** A storage that is full or switched off costs the way back after a reload, and not the work that is under way. */
async function tried(work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
  } catch {}
}

export const keepCopy = (page: SeatPage) => tried(() => set(COPY, { page, at: Date.now() } satisfies Copy));

export function keepGiven(seat: number, so: HereSoFar): void {
  try {
    localStorage.setItem(givenKey(seat), JSON.stringify(so));
  } catch {}
}

/** The paper as it stands on this device, with all that was given on it; null where there is none. */
export async function copyHere(): Promise<SeatPage | null> {
  const copy = await get<Copy>(COPY).catch(() => undefined);
  if (!copy) return null;
  return withGivenHere(later(copy.page, (Date.now() - copy.at) / 1000));
}

/** The page with the answers this device has given, which are ahead of what the server knew when it sent the page. */
export const withGivenHere = (page: SeatPage): SeatPage =>
  withGiven(page, JSON.parse(localStorage.getItem(givenKey(page.seat)) ?? "null"));

export function withGiven(page: SeatPage, here: HereSoFar | null): SeatPage {
  if (!here) return page;
  const answers = Object.entries(here.given).map(([item, { response, comeBack }]) => ({
    item,
    response,
    come_back: comeBack,
  }));
  return { ...page, answers, sequence: Math.max(page.sequence, here.sequence) };
}

/** The page so many seconds after it came: never with more time than it had. */
export function later(page: SeatPage, seconds: number): SeatPage {
  if (page.seconds_left === null) return page;
  return { ...page, seconds_left: Math.max(0, Math.round(page.seconds_left - Math.max(0, seconds))) };
}

/** No paper stays on a device that somebody else may use next. What waits for the server does. */
export async function forgetCopy(): Promise<void> {
  for (const key of Object.keys(localStorage)) if (key.startsWith("verso.given.")) localStorage.removeItem(key);
  await tried(() => del(COPY));
  if ("caches" in globalThis) await tried(() => Promise.all([caches.delete(PICTURES), caches.delete(PAGE_FILES)]));
}

/** The student handed in, and the server does not know of it yet. */
export const handedInHere = (seat: number): When | null =>
  JSON.parse(localStorage.getItem(handedInKey(seat)) ?? "null");
export const keepHandedIn = (seat: number, when: When) => localStorage.setItem(handedInKey(seat), JSON.stringify(when));
export const forgetHandedIn = (seat: number) => localStorage.removeItem(handedInKey(seat));
