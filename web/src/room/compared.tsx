import type { Schemas } from "../api/client";
import { Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { figure, many } from "../ui/words";

/** The first round beside the last: who moved where. */
export function Compared({ compared }: { compared: Schemas["Compared"] }) {
  if (compared.students === 0) return null;
  const { right_before, right_after, students, gained, lost, p } = compared;
  return (
    <Region name={`Before and after talk: round ${compared.first} and ${compared.last}`}>
      <p className="mt-2 font-serif text-xl font-semibold">
        From {right_before} to {right_after} right of {students} who answered both times.
      </p>
      <p className="mb-2">
        {many(gained, "student")} moved to the key, {lost} away from it.{" "}
        {p !== null &&
          (p < 0.05
            ? `Chance alone would hardly do that (McNemar’s exact test, p ${figure(p, p < 0.01 ? 3 : 2)}).`
            : `In a class of this size that could be chance (McNemar’s exact test, p ${figure(p)}).`)}
      </p>
      <Table
        caption="Moves between the rounds"
        heads={[{ label: "Before" }, { label: "After" }, { label: "Students", right: true }]}
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
