import { t } from "@lingui/core/macro";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useKeys } from "../ui/keys";

const VIEWS = {
  paper: t`Paper`,
  map: t`Map`,
  table: t`Table`,
  totals: t`Totals`,
  scale: t`Scale`,
  groups: t`Groups`,
  time: t`Time`,
  summary: t`Summary`,
  "other-sittings": t`Other sittings`,
} as const;
export type View = keyof typeof VIEWS;
const NAMES = Object.keys(VIEWS) as View[];

export const viewOf = (name: string | null): View => NAMES.find((view) => view === name) ?? "paper";

/** The looks at one sitting, each under a digit: the paper annotated, the map of its questions, the table of its
 * students, the totals, the scale, groups compared, time on the questions, other sittings of the test. */
export function ViewsNav({ sittingId, view }: { sittingId: number; view: View }) {
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const address = (name: View) => {
    // How the figures are looked at goes along; what belongs to one look alone does not.
    const kept = new URLSearchParams(search);
    for (const own of ["view", "question", "which", "by", "cuts", "against"]) kept.delete(own);
    if (name !== "paper") kept.set("view", name);
    const query = kept.toString();
    return `/findings/${sittingId}${query ? `?${query}` : ""}`;
  };
  useKeys(Object.fromEntries(NAMES.map((name, at) => [String(at + 1), () => navigate(address(name))])));
  return (
    <nav aria-label={t`Looks`} className="flex flex-wrap gap-x-3 text-sm">
      {NAMES.map((name, at) => (
        <Link
          key={name}
          to={address(name)}
          title={t`Key ${at + 1}`}
          aria-current={name === view ? "page" : undefined}
          className={name === view ? "font-semibold underline underline-offset-4" : "text-graphite"}
        >
          {VIEWS[name]}
        </Link>
      ))}
    </nav>
  );
}
