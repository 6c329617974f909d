import { t } from "@lingui/core/macro";
import { Button } from "../ui/button";
import { useKeys } from "../ui/keys";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { amount } from "../ui/words";
import { sum } from "./points";
import type { AnswerPage, MarkingItem } from "./types";

type Props = {
  criteria: MarkingItem["rubric"]["criteria"];
  marks: AnswerPage["others"];
  onTake: (points: Record<string, number>, comment: string) => void;
};

const NAMES = [t`First`, t`Second`];
const CAPS = ["F", "G"];

/** Two marks that are too far apart, side by side, with what differs lit; either can be taken as it is. */
export function TwoMarks({ criteria, marks, onTake }: Props) {
  const [first, second] = marks;
  const take = (at: number) => {
    const mark = marks[at];
    if (mark) onTake(mark.points, mark.comment);
  };
  useKeys({ f: () => take(0), g: () => take(1) });
  if (!first || !second) return null;
  return (
    <Region name={t`Two marks`} remark={t`${amount(Math.abs(sum(first.points) - sum(second.points)))} points apart`}>
      <Table
        caption={t`Two marks`}
        heads={[
          { label: t`Criterion` },
          ...marks.map((mark, at) => ({ label: `${NAMES[at]}, ${mark.by}`, right: true })),
        ]}
      >
        {criteria.map((criterion) => (
          <Row key={criterion.id} selected={first.points[criterion.id] !== second.points[criterion.id]}>
            <Cell>{criterion.name}</Cell>
            {marks.map((mark) => (
              <Cell key={mark.id} right>
                {amount(mark.points[criterion.id])}
              </Cell>
            ))}
          </Row>
        ))}
        <Row>
          <Cell>
            <strong>{t`Together`}</strong>
          </Cell>
          {marks.map((mark) => (
            <Cell key={mark.id} right>
              <strong>{amount(sum(mark.points))}</strong>
            </Cell>
          ))}
        </Row>
      </Table>
      {marks.map(
        (mark, at) =>
          mark.comment && (
            <p key={mark.id} className="mt-2 text-sm">
              <span className="text-graphite">{NAMES[at]}:</span> {mark.comment}
            </p>
          ),
      )}
      <p className="mt-3 flex gap-3">
        {NAMES.map((name, at) => (
          <Button key={name} keyHint={CAPS[at] ?? ""} onClick={() => take(at)}>
            {t`Take the ${name.toLowerCase()}`}
          </Button>
        ))}
      </p>
    </Region>
  );
}
