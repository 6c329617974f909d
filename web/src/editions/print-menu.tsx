import { t } from "@lingui/core/macro";
import { Button } from "../ui/button";
import { Menu } from "../ui/menu";

export const PRINTS = {
  booklet: t`Booklet`,
  "large-18": t`Large print, 18 pt`,
  "large-24": t`Large print, 24 pt`,
  answers: t`Answers in the booklet`,
  guide: t`Key and marking guide`,
} as const;

/** What a test can be printed as; each opens as a PDF beside this window. */
export function PrintMenu({ at, forms, disabled = false }: { at: string; forms: string[]; disabled?: boolean }) {
  const choices = forms.flatMap((form) =>
    Object.entries(PRINTS).map(([what, name]) => ({
      name: forms.length > 1 ? t`${name}, form ${form}` : name,
      onChoose: () => openPrint(at, what, form),
    })),
  );
  return <Menu trigger={<Button disabled={disabled}>{t`Print`}</Button>} choices={choices} />;
}

export const openPrint = (at: string, what: string, form: string) => void open(`${at}/${what}?form=${form}`, "_blank");
