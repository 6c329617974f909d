import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";

export type FileKind = Schemas["FileTask"]["file_kinds"][number];

/** What can be handed in, as one says it. */
export const FILE_KINDS: Record<FileKind, string> = {
  pdf: "PDF",
  picture: t`pictures`,
  text: t`text and office documents`,
  sheet: t`spreadsheets`,
  slides: t`presentations`,
  sound: t`sound`,
  film: t`films`,
};
