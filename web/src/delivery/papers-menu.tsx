import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { openPrint, PRINTS } from "../editions/print-menu";
import { Button } from "../ui/button";
import { Menu } from "../ui/menu";

/** What to print for this class: each form with how many sit it, large print with the names of those who need it. */
export function PapersMenu({ sitting }: { sitting: Schemas["SittingPage"] }) {
  const forms = new Set(sitting.papers.map((paper) => paper.form)).size > 1;
  const at = `/api/v1/editions/${sitting.edition}/print`;
  const choices = sitting.papers.flatMap(({ form, large, names }) =>
    (large ? (["large-18", "large-24"] as const) : (["booklet"] as const)).map((what) => ({
      name: forms ? t`${PRINTS[what]}, form ${form}` : PRINTS[what],
      says: large
        ? t`for ${names.join(", ")}`
        : t`for ${plural(names.length, { one: "# student", other: "# students" })}`,
      onChoose: () => openPrint(at, what, form),
    })),
  );
  if (choices.length === 0) return null;
  return <Menu trigger={<Button>{t`Print for this class`}</Button>} choices={choices} />;
}
