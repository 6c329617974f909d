import { api, read, type Schemas } from "../api/client";

/** Keeps a picture in the bank; answers with where it is and how large. */
export function keepPicture(file: File): Promise<Schemas["PictureLine"]> {
  const form = new FormData();
  form.append("file", file);
  return read(api.POST("/api/v1/pictures", { body: { file: "" }, bodySerializer: () => form }));
}

export const keepPictureAddress = async (file: File): Promise<string> => (await keepPicture(file)).address;
