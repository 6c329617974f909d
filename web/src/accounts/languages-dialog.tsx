import { t } from "@lingui/core/macro";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { LANGUAGES, type Language } from "../language/locales";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem } from "../ui/field";

type Props = { me: Schemas["Me"]; onClose: () => void };

/** Of one's own pages, and of the whole school. */
export function LanguagesDialog({ me, onClose }: Props) {
  const [own, setOwn] = useState(me.language as Schemas["Languages"]["own"]);
  const [school, setSchool] = useState((me.school_language || "en") as Schemas["Languages"]["school"]);
  const keep = useMutation({
    mutationFn: () => read(api.PUT("/api/v1/me/languages", { body: { own, school } })),
    onSuccess: () => location.reload(),
  });
  const choices = (names: Language[]) =>
    names.map((name) => (
      <option key={name} value={name} lang={name}>
        {LANGUAGES[name]}
      </option>
    ));
  return (
    <Dialog open onClose={onClose} title={t`Languages`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <Field label={t`Your pages`}>
          {(id) => (
            <Choice id={id} value={own} onChange={(event) => setOwn(event.target.value as typeof own)}>
              <option value="">{t`as the school`}</option>
              {choices(["en", "es"])}
            </Choice>
          )}
        </Field>
        <Field
          label={t`The school`}
          hint={t`Students’ pages, letters and new tests, where nobody says otherwise. A student’s own language stands with what they need; a test’s beside its title. Teachers’ pages have no Arabic yet.`}
        >
          {(id) => (
            <Choice id={id} value={school} onChange={(event) => setSchool(event.target.value as typeof school)}>
              {choices(["en", "es", "ar"])}
            </Choice>
          )}
        </Field>
        <Problem error={keep.error} />
        <Button type="submit" variant="main" disabled={keep.isPending}>{t`Keep`}</Button>
      </form>
    </Dialog>
  );
}
