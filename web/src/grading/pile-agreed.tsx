import { plural, t } from "@lingui/core/macro";
import { Link } from "react-router";
import { api, read } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Line, Region } from "../ui/split-page";
import { useSay } from "../ui/undo";
import type { Change, Pile } from "./pile-types";

/** Answers whose mark was agreed on, which every marker meets among their own without knowing it. */
export function AgreedAnswers({ pile, onChange }: { pile: Pile; onChange: Change }) {
  const first = pile.sittings[0]?.sitting;
  const say = useSay();
  const path = { pile_id: pile.id };
  const noMore = async ({ id, sitting, item, desk, reason }: Pile["agreed"][number]) => {
    await read(
      api.DELETE("/api/v1/piles/{pile_id}/agreed/{agreed_id}", { params: { path: { ...path, agreed_id: id } } }),
    );
    // What markers gave it is kept with the answer, and counts again with it.
    const body = { sitting, item, number: desk, reason };
    const again = () => read(api.POST("/api/v1/piles/{pile_id}/agreed", { params: { path }, body }));
    say(t`No. ${desk} is met by no marker any more. Its mark stays.`, async () => onChange(again));
  };
  if (pile.ended_at && pile.agreed.length === 0) return null;
  return (
    <Region
      name={t`Agreed answers`}
      remark={pile.agreed.length ? t`one after every ${pile.check_every} of a marker’s own` : undefined}
    >
      {!pile.ended_at && (
        <p className="my-2 text-sm text-graphite">
          {t`Mark some answers yourself, alone or together, and choose “Use as an agreed answer” there. Every marker meets them unseen among their own; what they give shows here and to themselves, and counts for nothing else. Five to a question say how harsh somebody is.`}
        </p>
      )}
      {pile.agreed.map((one) => (
        <Line
          key={one.id}
          margin={t`question ${one.number}`}
          action={
            !pile.ended_at && (
              <Button variant="quiet" onClick={() => onChange(() => noMore(one))}>{t`use it no more`}</Button>
            )
          }
        >
          <Link className="text-iris underline" to={`/marking/${one.sitting}?item=${one.item}&number=${one.desk}`}>
            {t`No. ${one.desk}`}
          </Link>
          {`: ${plural(one.points, { one: "# point", other: "# points" })}`}
          <p className="text-sm text-graphite">
            {[one.reason, plural(one.met, { one: "marked by # marker", other: "marked by # markers" })]
              .filter(Boolean)
              .join(" · ")}
          </p>
        </Line>
      ))}
      {first !== undefined && !pile.ended_at && (
        <p className="mt-3">
          <ButtonLink to={`/marking/${first}`}>{t`Choose answers`}</ButtonLink>
        </p>
      )}
    </Region>
  );
}
