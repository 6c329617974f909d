import { NavLink } from "react-router";

const PLACES = [
  ["", "Record"],
  ["/growth", "Growth"],
  ["/not-tested", "Not tested"],
  ["/rules", "Terms and scale"],
] as const;

/** The pages of one class's record. */
export function RecordNav({ classId }: { classId: number }) {
  return (
    <nav aria-label="Of this record" className="flex flex-wrap gap-x-3 text-sm">
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
