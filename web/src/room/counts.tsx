import { t } from "@lingui/core/macro";
import { Bar } from "../ui/bar";
import { Region } from "../ui/split-page";
import { percent } from "../ui/words";
import type { ConsolePage } from "./use-room";

/** The spread with its key, for the teacher alone, whatever the wall shows. */
export function Counts({ page }: { page: ConsolePage }) {
  const all = page.counts.reduce((sum, row) => sum + row.students, 0);
  if (all === 0) return null;
  return (
    <Region name={t`Answers so far`} remark={t`only you see this`}>
      <table className="mt-2 w-full border-collapse text-sm">
        <caption className="sr-only">{t`How many gave which answer`}</caption>
        <thead className="sr-only">
          <tr>
            <th scope="col">{t`Answer`}</th>
            <th scope="col">{t`Students`}</th>
            <th scope="col">{t`Share`}</th>
          </tr>
        </thead>
        <tbody>
          {page.counts.map((row) => (
            <tr key={row.label + row.text} className={row.right ? "font-semibold text-teal" : ""}>
              <td className="max-w-0 truncate py-0.5 font-serif">
                {row.label} {row.text}
                {row.right && " ✓"}
              </td>
              <td className="w-10 text-end">{row.students}</td>
              <td className="w-28 ps-3">
                <span className="sr-only">{percent(row.students / all)}</span>
                <Bar share={row.students / all} right={row.right ?? false} thick="h-2.5" />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Region>
  );
}
