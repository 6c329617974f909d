import { t } from "@lingui/core/macro";
/** A file of this computer as base64, the way files travel to the server. */
export async function base64(file: File): Promise<string> {
  const address = await dataAddress(file);
  return address.slice(address.indexOf(",") + 1);
}

/** A file as an address that holds all of it. */
export const dataAddress = (file: Blob) =>
  new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(new Error(t`The file could not be read from this computer.`));
    reader.readAsDataURL(file);
  });

/** Saves a file that came from the server as base64. */
export function saveFile(name: string, type: string, data: string): void {
  saveBlob(name, new Blob([Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0))], { type }));
}

/** Saves what was made on the page. */
export function saveBlob(name: string, data: Blob): void {
  const address = URL.createObjectURL(data);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
