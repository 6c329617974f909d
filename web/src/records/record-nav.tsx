import { t } from "@lingui/core/macro";
import { NavLink } from "react-router";

const PLACES = [
  ["", t`Record`],
  ["/growth", t`Growth`],
  ["/not-tested", t`Not tested`],
  ["/rules", t`Terms and scale`],
] as const;

/** The pages of one class's record. */
export function RecordNav({ classId }: { classId: number }) {
  return (
    <nav aria-label={t`Of this record`} className="flex flex-wrap gap-x-3 text-sm">
      {PLACES.map(([path, name]) => (
        <NavLink
          key={name}
          end
          to={`/records/${classId}${path}`}
          className={({ isActive }) => (isActive ? "font-semibold underline underline-offset-4" : "text-graphite")}
        >
          {name}
        </NavLink>
      ))}
    </nav>
  );
}
