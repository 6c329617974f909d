import { read, type Schemas, withCsrfToken } from "../api/client";

/** Sends scans as they are; a form carries large files without holding them in memory twice. */
export async function sendScans(files: File[]): Promise<Schemas["ScanLine"][]> {
  const form = new FormData();
  for (const file of files) form.append("files", file);
  return read(
    fetch("/api/v1/scans", { method: "POST", body: form, headers: withCsrfToken() }).then(async (response) => {
      const body = await response.json().catch(() => null);
      return response.ok ? { data: body as Schemas["ScanLine"][], response } : { error: body, response };
    }),
  );
}

export const ACCEPTED = ".pdf,.tif,.tiff,.png,.jpg,.jpeg";
