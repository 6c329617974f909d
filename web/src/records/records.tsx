import { plural, t } from "@lingui/core/macro";
import { Link } from "react-router";
import { useClasses } from "../classes/class-choice";
import { LastSitting, MeansOverTime, useGlance } from "../ui/at-a-glance";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { ListTools, MANY, useTyped } from "../ui/list-tools";
import { Empty, Page } from "../ui/split-page";

/** The classes, each with its record: how many sittings it holds, and where the class stood in the latest of them. */
export function Records() {
  const classes = useClasses();
  const { typed, type, holds } = useTyped();
  const glance = useGlance("classes");
  const all = classes.data ?? [];
  const shown = all.filter((one) => holds(`${one.name} ${one.owner}`));
  return (
    <Page
      title={t`Records`}
      facts={all.length > MANY ? plural(all.length, { one: "# class", other: "# classes" }) : ""}
      actions={all.length > 1 && <ButtonLink to="/records/side-by-side">{t`Classes side by side`}</ButtonLink>}
    >
      <div className="px-6 py-4 lg:overflow-y-auto">
        <Problem error={classes.error} />
        {classes.data?.length === 0 && (
          <Empty
            title={t`There is no class yet.`}
            action={<ButtonLink to="/classes?new=1" variant="main">{t`Make a class`}</ButtonLink>}
          >{t`A record grows from sittings that are over: what each student has, term after term.`}</Empty>
        )}
        <ListTools name={t`Find a class`} hint={t`Find by class`} typed={typed} onType={type} count={all.length} />
        <ul>
          {shown.map((one) => {
            const line = glance.get(one.id);
            return (
              <li
                key={one.id}
                className="grid items-center gap-x-6 gap-y-1 border-b border-hairline py-3 md:grid-cols-[minmax(0,1fr)_8rem_minmax(0,1.4fr)_11rem]"
              >
                <div className="min-w-0 wrap-anywhere">
                  <Link to={`/records/${one.id}`} className="font-serif text-lg font-semibold hover:underline">
                    {one.name}
                  </Link>
                  {one.practice && <span className="ms-2 text-sm text-ochre">{t`◐ invented, for practice`}</span>}
                  <p className="text-sm text-graphite">
                    {plural(one.students, { one: "# student", other: "# students" })}
                    {line && `, ${plural(line.over, { one: "# sitting over", other: "# sittings over" })}`}
                  </p>
                </div>
                <div>{line && <MeansOverTime means={line.means} />}</div>
                <LastSitting line={line} of="classes" />
                <span className="flex gap-2 md:justify-self-end">
                  {(line?.over ?? 0) > 1 && <ButtonLink to={`/records/${one.id}/growth`}>{t`Growth`}</ButtonLink>}
                  <ButtonLink to={`/records/${one.id}`}>{t`Open`}</ButtonLink>
                </span>
              </li>
            );
          })}
        </ul>
      </div>
    </Page>
  );
}
