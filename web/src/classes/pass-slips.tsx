import { t } from "@lingui/core/macro";
import { useAddress } from "../api/address";
import type { Schemas } from "../api/client";

/** On paper only: one slip a student, to be cut apart. */
export function PassSlips({ page }: { page: Schemas["ClassPage"] }) {
  const { host } = useAddress();
  return (
    <div className="hidden w-full grid-cols-3 content-start bg-page print:grid" aria-hidden="true">
      {page.list.map((student) => (
        <div key={student.id} className="break-inside-avoid border border-dashed border-edge p-3">
          <p className="text-sm">{t`${page.name} · desk ${student.desk}`}</p>
          <p className="font-serif text-lg font-semibold">{student.full_name}</p>
          <p className="text-xl font-semibold">{student.pass_phrase}</p>
          <p className="text-sm">{t`${host}/join`}</p>
          <p className="text-sm">{t`your page: ${host}/mine/${page.link}`}</p>
        </div>
      ))}
    </div>
  );
}
