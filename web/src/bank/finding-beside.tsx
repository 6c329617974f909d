import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, read } from "../api/client";

/** What a sitting said of the question, while it is reworded. */
export function FindingBeside({ sittingId, itemId }: { sittingId: number; itemId: string }) {
  const found = useQuery({
    queryKey: ["findings", sittingId, "first", "{}"],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/findings", { params: { path: { sitting_id: sittingId } } })),
  });
  const question = found.data?.body?.paper.find((line) => line.ref === itemId);
  if (!found.data || !question) return null;
  const aside = found.data.dismissed.filter((one) => one.ref === itemId).map((one) => one.flag + one.options.join());
  const flags = found.data.body?.flags.filter(
    (flag) => flag.ref === itemId && !aside.includes(flag.flag + flag.options.join()),
  );
  return (
    <aside aria-label={t`What was found`} className="mb-4 border-s-2 border-plum bg-plum-wash px-3 py-2 text-sm">
      {flags?.length === 0 && <p>{t`Nothing held up as a problem with ${found.data.sitting.class_name}.`}</p>}
      {flags?.map((flag) => (
        <p key={flag.flag + flag.options.join()} className="mb-1">
          <strong>{flag.heading}</strong> {flag.says} <span className="text-graphite">{flag.advice}</span>
        </p>
      ))}
      <p className="text-graphite">
        {question.options
          .map((option) => `${option.option}${option.key ? t` (key)` : ""} ${option.seats.length}`)
          .join(", ")}
        {question.options.length > 0 && ". "}
        <Link
          className="underline underline-offset-2"
          to={`/findings/${sittingId}?question=${question.number}`}
        >{t`Back to the findings of ${found.data.sitting.class_name}`}</Link>
      </p>
    </aside>
  );
}
