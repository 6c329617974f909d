import { plural, t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { figure } from "../ui/words";

/** The first round beside the last: who moved where. */
export function Compared({ compared }: { compared: Schemas["Compared"] }) {
  if (compared.students === 0) return null;
  const { right_before, right_after, students, gained, lost, p } = compared;
  return (
    <Region name={t`Before and after talk: round ${compared.first} and ${compared.last}`}>
      <p className="mt-2 font-serif text-xl font-semibold">{t`From ${right_before} to ${right_after} right of ${students} who answered both times.`}</p>
      <p className="mb-2">
        {t`${plural(gained, { one: "# student", other: "# students" })} moved to the key, ${lost} away from it.`}{" "}
        {p !== null &&
          (p < 0.05
            ? t`Chance alone would hardly do that (McNemar’s exact test, p ${figure(p, p < 0.01 ? 3 : 2)}).`
            : t`In a class of this size that could be chance (McNemar’s exact test, p ${figure(p)}).`)}
      </p>
      <Table
        caption={t`Moves between the rounds`}
        heads={[{ label: t`Before` }, { label: t`After` }, { label: t`Students`, right: true }]}
      >
        {compared.moves.map((move) => (
          <Row key={`${move.before} ${move.after}`} selected={move.before !== move.after}>
            <Cell>{move.before}</Cell>
            <Cell>{move.after}</Cell>
            <Cell right>{move.students}</Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}
