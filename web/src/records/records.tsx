import { plural, t } from "@lingui/core/macro";
import { Link } from "react-router";
import { useClasses } from "../classes/class-choice";
import { ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { Empty, Line, Page } from "../ui/split-page";

/** The classes, each with its record. */
export function Records() {
  const classes = useClasses();
  return (
    <Page
      title={t`Records`}
      actions={
        (classes.data?.length ?? 0) > 1 && <ButtonLink to="/records/side-by-side">{t`Classes side by side`}</ButtonLink>
      }
    >
      <div className="max-w-5xl px-6 py-4">
        <Problem error={classes.error} />
        {classes.data?.length === 0 && (
          <Empty
            title={t`There is no class yet.`}
            action={<ButtonLink to="/classes?new=1" variant="main">{t`Make a class`}</ButtonLink>}
          >{t`A record grows from sittings that are over: what each student has, term after term.`}</Empty>
        )}
        {classes.data?.map((one) => (
          <Line
            key={one.id}
            margin={plural(one.students, { one: "# student", other: "# students" })}
            action={<ButtonLink to={`/records/${one.id}`}>{t`Open`}</ButtonLink>}
          >
            <Link to={`/records/${one.id}`} className="font-serif text-lg">
              {one.name}
            </Link>
          </Line>
        ))}
      </div>
    </Page>
  );
}
