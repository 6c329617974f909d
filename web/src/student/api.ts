import createClient from "openapi-fetch";
import { Refused, read, withCsrf } from "../api/client";
import { heard, type When } from "./heard";
import { type Change, Refusal } from "./outbox";
import type { components, paths } from "./schema";

export type SeatPage = components["schemas"]["SeatPage"];

export type StudentRoom = components["schemas"]["StudentRoom"];

/** A network that swallows everything is none: what is asked gets no answer within so many milliseconds. */
const PATIENCE = 20_000;
const api = createClient<paths>({
  fetch: (request) => fetch(request, request.url.includes("/files/") ? {} : { signal: AbortSignal.timeout(PATIENCE) }),
});
api.use(withCsrf);

/** A page of the seat, whose moment is taken down. */
async function fresh(page: Promise<SeatPage>): Promise<SeatPage> {
  const now = await page;
  heard(now.moment);
  return now;
}

/** The seat this device holds, or null when it holds none. */
export async function mySeat(): Promise<SeatPage | null> {
  try {
    return await fresh(read(api.GET("/api/v1/student/seat")));
  } catch (error) {
    if (!(error instanceof Refused) || error.status !== 401) throw error;
    await read(api.GET("/api/v1/student/hello"));
    return null;
  }
}

export const join = (code: string, pass_phrase: string) =>
  fresh(read(api.POST("/api/v1/student/join", { body: { code, pass_phrase } })));
export const namesToPick = async (code: string) =>
  (await read(api.GET("/api/v1/student/names", { params: { query: { code } } }))).names ?? null;
export const pickName = (code: string, seat: number) =>
  fresh(read(api.POST("/api/v1/student/pick", { body: { code, seat } })));
/** when: where it was said before and could not be sent then. */
export const handIn = (when: When) => fresh(read(api.POST("/api/v1/student/hand-in", { body: when })));
export const takeBack = () => fresh(read(api.POST("/api/v1/student/take-back")));
export const beginBreak = () => fresh(read(api.POST("/api/v1/student/break")));
export const endBreak = () => fresh(read(api.POST("/api/v1/student/break/end")));
export const beginAgain = () => fresh(read(api.POST("/api/v1/student/again")));
/** What follows a first part that was handed in; an empty title where nothing does. */
export const nextPart = async () => (await read(api.GET("/api/v1/student/next"))).title;
export const goToNext = () => fresh(read(api.POST("/api/v1/student/next")));
export const goOnHere = () => fresh(read(api.POST("/api/v1/student/here")));
export type Away = components["schemas"]["TimeAway"];
export type Spent = components["schemas"]["TimeSpent"];
export const sendSigns = (body: components["schemas"]["Signs"]) => read(api.POST("/api/v1/student/signs", { body }));
export const leave = () => read(api.POST("/api/v1/student/leave"));

/** What the teacher has on in a lesson. */
export const myRoom = () => read(api.GET("/api/v1/student/room"));

/** An answer in a round; a Refusal where it is not taken, any other error where it did not arrive. */
export async function giveInRound(body: components["schemas"]["RoundChange"]): Promise<StudentRoom> {
  try {
    return await read(api.POST("/api/v1/student/room/answers", { body }));
  } catch (error) {
    throw asRefusal(error);
  }
}

function asRefusal(error: unknown): unknown {
  return error instanceof Refused && error.status >= 400 && error.status < 500 ? new Refusal(error.message) : error;
}

export async function sendAnswers(changes: Change[]): Promise<string[]> {
  try {
    const { kept, moment } = await read(api.POST("/api/v1/student/answers", { body: { changes } }));
    heard(moment);
    return kept;
  } catch (error) {
    throw asRefusal(error);
  }
}

type HandedIn = components["schemas"]["HandedIn"];

/** Hands a file over for a question; the answer names it afterwards. */
export async function handInFile(item: string, file: File): Promise<HandedIn> {
  const form = new FormData();
  form.append("file", file);
  return read(
    api.POST("/api/v1/student/files/{item}", {
      params: { path: { item } },
      body: { file: "" },
      bodySerializer: () => form,
    }),
  );
}
