import createClient from "openapi-fetch";
import { Refused, read, withCsrf } from "../api/client";
import type { components, paths } from "./schema";

export type OwnPage = components["schemas"]["OwnPage"];

const api = createClient<paths>();
api.use(withCsrf);

/** The page of whoever is signed in on this device, or null. */
export async function ownPage(): Promise<OwnPage | null> {
  try {
    return await read(api.GET("/api/v1/portal/page"));
  } catch (error) {
    if (!(error instanceof Refused) || error.status !== 401) throw error;
    await read(api.GET("/api/v1/portal/hello"));
    return null;
  }
}

export const enterOwn = (link: string, pass_phrase: string) =>
  read(api.POST("/api/v1/portal/enter", { body: { link, pass_phrase } }));
export const goTo = (sitting_id: number) =>
  read(api.POST("/api/v1/portal/sittings/{sitting_id}/go", { params: { path: { sitting_id } } }));
export const ownCalendar = (anew: boolean) =>
  read(api.POST("/api/v1/portal/calendar", { params: { query: { anew } } }));
export const leaveOwn = () => read(api.POST("/api/v1/portal/leave"));
export const ownGrowth = () => read(api.GET("/api/v1/portal/growth"));
export const ownResult = (sitting_id: number) =>
  read(api.GET("/api/v1/portal/sittings/{sitting_id}/result", { params: { path: { sitting_id } } }));
export const askAbout = (sitting_id: number, item: string, reason: string) =>
  read(
    api.POST("/api/v1/portal/sittings/{sitting_id}/questions/{item}", {
      params: { path: { sitting_id, item } },
      body: { reason },
    }),
  );
export const askNoMore = (sitting_id: number, item: string) =>
  read(api.DELETE("/api/v1/portal/sittings/{sitting_id}/questions/{item}", { params: { path: { sitting_id, item } } }));
