import { Link } from "react-router";

export type View = "paper" | "map" | "table" | "scale";
const VIEWS: Record<View, string> = { paper: "Paper", map: "Map", table: "Table", scale: "Scale" };

/** The looks at one sitting: the paper annotated, the map of its questions, the table of its students, the scale. */
export function ViewsNav({ sittingId, view }: { sittingId: number; view: View }) {
  return (
    <nav aria-label="Looks" className="flex gap-3 text-sm">
      {(Object.entries(VIEWS) as [View, string][]).map(([name, words]) => (
        <Link
          key={name}
          to={name === "paper" ? `/findings/${sittingId}` : `/findings/${sittingId}?view=${name}`}
          aria-current={name === view ? "page" : undefined}
          className={name === view ? "font-semibold underline underline-offset-4" : "text-graphite"}
        >
          {words}
        </Link>
      ))}
    </nav>
  );
}
