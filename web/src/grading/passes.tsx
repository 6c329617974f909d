import { t } from "@lingui/core/macro";
import { NavLink } from "react-router";
import type { MarkingPage } from "./types";

/** First marks, second marks, and what is to be agreed on, as a line to change between. */
export function Readings({ page }: { page: MarkingPage }) {
  const readings = [
    { turn: "first", name: t`First marks`, left: 0 },
    { turn: "second", name: t`Second marks`, left: page.second_left },
    { turn: "agreed", name: t`To agree on`, left: page.agree_left },
  ];
  return (
    <nav aria-label={t`Readings`} className="mb-3 flex flex-wrap gap-4 text-sm">
      {readings.map(({ turn, name, left }) => (
        <NavLink
          key={turn}
          to={`/marking/${page.sitting}?reading=${turn}`}
          aria-current={turn === page.turn ? "page" : undefined}
          className={turn === page.turn ? "font-semibold underline underline-offset-4" : "text-graphite"}
        >
          {name} {left > 0 && <span className="text-plum">{left}</span>}
        </NavLink>
      ))}
      <NavLink
        to={`/marking/${page.sitting}/second`}
        end
        className="ms-auto text-graphite underline"
      >{t`How they agree`}</NavLink>
    </nav>
  );
}
