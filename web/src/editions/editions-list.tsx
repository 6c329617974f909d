import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Region } from "../ui/split-page";
import { dayOf } from "../ui/words";
import { PrintMenu } from "./print-menu";

type Edition = Schemas["EditionLine"];

/** Every edition frozen from a test, newest first, with what is new in it. */
export function EditionsList({ editions }: { editions: Edition[] }) {
  if (editions.length === 0) return null;
  return (
    <Region name={t`Frozen editions`}>
      <ul>
        {editions.map((edition) => (
          <EditionLine key={edition.id} edition={edition} first={edition.number === 1} />
        ))}
      </ul>
    </Region>
  );
}

function EditionLine({ edition, first }: { edition: Edition; first: boolean }) {
  const [open, setOpen] = useState(false);
  const changes = useQuery({
    queryKey: ["changes", edition.id],
    queryFn: () =>
      read(api.GET("/api/v1/editions/{edition_id}/changes", { params: { path: { edition_id: edition.id } } })),
    enabled: open,
  });
  return (
    <li className="border-b border-hairline py-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="min-w-0 flex-1">
          <strong>{t`Edition ${edition.number}`}</strong>
          {edition.label && `, ${edition.label}`}{" "}
          <span className="text-sm text-graphite">
            {plural(edition.questions, { one: "# question", other: "# questions" })},{" "}
            {plural(edition.marks, { one: "# mark", other: "# marks" })}
            {edition.forms.length > 1 && t`, forms ${edition.forms.join(", ")}`}
            {t`, frozen ${dayOf(edition.frozen_at)}`}
          </span>
        </span>
        {!first && (
          <Button variant="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>{t`what changed`}</Button>
        )}
        <PrintMenu at={`/api/v1/editions/${edition.id}/print`} forms={edition.forms} />
        <ButtonLink to={`/sittings?new=1&edition=${edition.id}`}>{t`Plan a sitting`}</ButtonLink>
      </div>
      <Problem error={changes.error} />
      {open && changes.data && (
        <ul className="pt-1 ps-4 text-sm">
          {changes.data.length === 0 && <li className="text-graphite">{t`The questions are the same.`}</li>}
          {changes.data.map((change) => (
            <li key={change.number + change.change}>
              <strong>{change.number}</strong> {change.change} <span className="text-graphite">{change.stem}</span>
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
