import { t } from "@lingui/core/macro";
import type { Schemas } from "../../api/client";
import { Region } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { amount, figure, percent } from "../../ui/words";
import { namesOf } from "../names-of";

type Props = { criteria: Schemas["CriterionSpread"][]; students: Schemas["FindingsStudent"][] };

/** Of a question marked with a rubric: how many reached which level of each criterion, who, and the share of everything
 * else that they earned, which should rise with the level. */
export function LevelSpread({ criteria, students }: Props) {
  return criteria.map((criterion) => {
    const most = Math.max(1, ...criterion.levels.map((level) => level.seats.length));
    return (
      <Region
        key={criterion.name}
        name={criterion.name}
        remark={t`of ${amount(criterion.max, criterion.max % 1 ? 1 : 0)}${criterion.r_rest === null ? "" : t` · r ${figure(criterion.r_rest)} with everything else`}`}
      >
        <Table
          caption={t`Levels reached in ${criterion.name}`}
          heads={[
            { label: t`Points`, right: true },
            { label: t`Level` },
            { label: t`Students` },
            { label: t`Elsewhere`, right: true },
          ]}
        >
          {criterion.levels.map((level) => (
            <Row key={level.points}>
              <Cell right>
                <strong>{amount(level.points, level.points % 1 ? 1 : 0)}</strong>
              </Cell>
              <Cell>
                <span className="font-serif">{level.words || "–"}</span>
              </Cell>
              <Cell>
                <span className="flex items-center gap-2">
                  <span
                    aria-hidden="true"
                    className={`h-2.5 shrink-0 ${level.points >= criterion.max ? "bg-teal" : "bg-ink/70"}`}
                    style={{ width: `${(80 * level.seats.length) / most}px` }}
                  />
                  <span className="shrink-0 font-semibold">{level.seats.length}</span>
                </span>
                <span className="text-xs text-graphite">{namesOf(students, level.seats).join(", ")}</span>
              </Cell>
              <Cell right>{percent(level.rest)}</Cell>
            </Row>
          ))}
        </Table>
      </Region>
    );
  });
}
