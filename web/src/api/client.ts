import { t } from "@lingui/core/macro";
import createClient, { type Middleware } from "openapi-fetch";
import { painted } from "./painted";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

/** A refusal of the server: a sentence for the person, and details where there are any. */
export class Refused extends Error {
  readonly problems: string[];
  readonly status: number;
  readonly code: string;
  constructor(status: number, detail: string, problems: string[] = [], code = "") {
    super(detail);
    this.status = status;
    this.problems = problems;
    this.code = code;
  }
}

/** The header that proves a change comes from our own page. */
export function withCsrfToken(): Record<string, string> {
  const token = document.cookie.match(/(?:^|; )verso_csrf=([^;]+)/)?.[1];
  return token ? { "X-Verso-Csrf": token } : {};
}

export const withCsrf: Middleware = {
  onRequest({ request }) {
    if (request.method === "GET") return request;
    for (const [name, value] of Object.entries(withCsrfToken())) request.headers.set(name, value);
    return request;
  },
};

export const api = createClient<paths>({
  fetch: async (request) => {
    await painted();
    return fetch(request);
  },
});
api.use(withCsrf);

/** The header under which a change that arrives twice is carried out once. */
export const once = (id: string) => ({ "Idempotency-Key": id });

/** A file that the server makes of what is sent to it. Its address is one of many, so it is no path of the client. */
export const fileFrom = (address: string, body: unknown): Promise<Blob> =>
  read(
    (async () => {
      const headers = { "Content-Type": "application/json", ...withCsrfToken() };
      const response = await fetch(address, { method: "POST", headers, body: JSON.stringify(body) });
      return response.ok
        ? { data: await response.blob(), response }
        : { error: await response.json().catch(() => ({})), response };
    })(),
  );

/** The data of a call, or a thrown Refused in words. */
export async function read<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let result: Awaited<typeof call>;
  try {
    result = await call;
  } catch {
    throw new Refused(0, t`No connection to the school's server. Try again in a moment.`);
  }
  if (result.response.ok) return result.data as T;
  const body = (result.error ?? {}) as Partial<Schemas["Problem"]>;
  const detail =
    body.detail ??
    (result.response.status === 401 ? t`You are signed out. Sign in again to go on.` : t`That did not work.`);
  throw new Refused(
    result.response.status,
    detail,
    body.errors?.map((error) => error.detail),
    body.code,
  );
}
