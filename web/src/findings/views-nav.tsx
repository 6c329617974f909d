import { t } from "@lingui/core/macro";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useKeys } from "../ui/keys";

const VIEWS = {
  paper: t`Paper`,
  ideas: t`By idea`,
  map: t`Map`,
  totals: t`Totals`,
  scale: t`Scale`,
  time: t`Time`,
  summary: t`In one table`,
  table: t`Students`,
  groups: t`Groups`,
  "other-sittings": t`Other sittings`,
} as const;
export type View = keyof typeof VIEWS;
const NAMES = Object.keys(VIEWS) as View[];

export const viewOf = (name: string | null): View => NAMES.find((view) => view === name) ?? "paper";

type Props = { sittingId: number; classId: number; view: View };

/** The looks at one sitting in the order of a teacher's three questions; those on this page each under a digit. */
export function ViewsNav({ sittingId, classId, view }: Props) {
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
  useKeys(Object.fromEntries(NAMES.map((name, at) => [String((at + 1) % 10), () => navigate(address(name))])));
  const questions: [string, View[], [string, string][]][] = [
    [t`What was misunderstood?`, ["paper", "ideas", "map"], []],
    [t`Can I trust the marks?`, ["totals", "scale", "time", "summary"], [[t`Markers`, `/marking/${sittingId}/second`]]],
    [
      t`Who needs what?`,
      ["table", "groups", "other-sittings"],
      [
        [t`Skills`, `/results/${sittingId}/skills`],
        [t`Growth`, `/records/${classId}/growth`],
      ],
    ],
  ];
  return (
    <nav
      aria-label={t`Looks`}
      data-screen-only
      className="flex flex-wrap gap-x-9 gap-y-2 border-b border-hairline px-5 pt-1.5 pb-2"
    >
      {questions.map(([question, looks, elsewhere]) => (
        <div key={question}>
          <p className="text-xs text-graphite">{question}</p>
          <div className="flex flex-wrap gap-x-3 text-sm">
            {looks.map((name) => (
              <Link
                key={name}
                to={address(name)}
                title={t`Key ${(NAMES.indexOf(name) + 1) % 10}`}
                aria-current={name === view ? "page" : undefined}
                className={name === view ? "font-semibold underline underline-offset-4" : "hover:underline"}
              >
                {VIEWS[name]}
              </Link>
            ))}
            {elsewhere.map(([name, to]) => (
              <Link key={to} to={to} className="hover:underline">
                {name}
              </Link>
            ))}
          </div>
        </div>
      ))}
    </nav>
  );
}
