import { plural, t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { Disclosure } from "../ui/disclosure";
import { momentOf, namesIn } from "../ui/words";

/** What the students were told ahead, and how it reached them. */
export function Told({ sittingId }: { sittingId: number }) {
  const told = useQuery({
    queryKey: ["sitting-events", sittingId, "told"],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/notices", { params: { path: { sitting_id: sittingId } } })),
  });
  if (!told.data) return null;
  const last = told.data[0];
  return (
    <div className="mb-6">
      <Disclosure name={t`Told the students`} remark={last ? `${last.kind}, ${momentOf(last.at)}` : t`in a moment`}>
        <ul className="text-sm">
          {told.data.map((line) => (
            <li key={`${line.kind}${line.at}`} className="border-b border-hairline py-1.5">
              {line.says} <span className="text-graphite">{reached(line)}</span>
              {line.failed.length > 0 && (
                <span className="block text-clay">{t`◆ Could not be sent by mail to ${namesIn(line.failed)}`}</span>
              )}
              {line.no_address.length > 0 && (
                <span className="block text-graphite">
                  {t`No address: ${line.no_address.length > 6 ? plural(line.no_address.length, { one: "# student", other: "# students" }) : namesIn(line.no_address)}`}
                </span>
              )}
            </li>
          ))}
        </ul>
      </Disclosure>
    </div>
  );
}

const reached = (line: Schemas["ToldLine"]) =>
  t`On ${plural(line.students, { one: "# page", other: "# pages" })}, read by ${line.read}; ${line.sent} by mail${line.waiting ? t`, ${line.waiting} on their way` : ""}.`;
