import { plural, t } from "@lingui/core/macro";
import { useState } from "react";
import { Button } from "../ui/button";
import { Rich } from "../ui/rich";
import { beside, verdict } from "./points";
import { RubricMarks } from "./rubric-marks";
import type { MarkingItem } from "./types";

type Props = { rubric: MarkingItem["rubric"]; onDone: () => void };

/** The sample answers marked as if they were students’, before the first real one; then what the rubric’s author gave. */
export function Practice({ rubric, onDone }: Props) {
  const [at, setAt] = useState(0);
  const [points, setPoints] = useState<Record<string, number>>({});
  const [active, setActive] = useState(0);
  const [shown, setShown] = useState(false);
  const [same, setSame] = useState(0);
  const sample = rubric.exemplars[at];
  if (!sample)
    return (
      <>
        <p className="font-serif text-lg">
          {t`${same} of ${plural(rubric.exemplars.length, { one: "# sample answer", other: "# sample answers" })} as the sample.`}
        </p>
        <Button variant="main" className="mt-4" onClick={onDone}>{t`To the answers`}</Button>
      </>
    );
  const complete = rubric.criteria.every((criterion) => points[criterion.id] !== undefined);
  const judged = beside(rubric.criteria, points, sample.points ?? {}, sample.reasons);
  const next = () => {
    setAt(at + 1);
    setPoints({});
    setActive(0);
    setShown(false);
  };
  return (
    <>
      <Rich html={sample.text ?? ""} className="mb-4 border-s-2 border-hairline ps-4 font-serif text-lg" />
      <RubricMarks
        criteria={rubric.criteria}
        points={points}
        active={active}
        onActive={setActive}
        onSet={(id, value) => !shown && setPoints({ ...points, [id]: value })}
        onSlide={(id, value) => !shown && setPoints({ ...points, [id]: value })}
      />
      {shown ? (
        <section aria-label={t`What the sample has`} className="border-s-2 border-iris bg-iris-wash px-4 py-2">
          <p className="font-semibold">{verdict(judged)}</p>
          {judged.map((one) => (
            <p key={one.criterion} className="text-sm">
              {t`${one.criterion}: you gave ${one.given}, the sample has ${one.sample}`}
              {one.reason && <span className="block text-graphite">{one.reason}</span>}
            </p>
          ))}
          {sample.remark && <p className="mt-1 text-sm text-graphite">{sample.remark}</p>}
          <Button variant="main" className="mt-3" onClick={next}>
            {at + 1 < rubric.exemplars.length ? t`The next sample` : t`How I did`}
          </Button>
        </section>
      ) : (
        <Button
          variant="main"
          disabled={!complete}
          onClick={() => {
            setShown(true);
            if (judged.every((one) => one.given === one.sample)) setSame(same + 1);
          }}
        >{t`Compare`}</Button>
      )}
    </>
  );
}
