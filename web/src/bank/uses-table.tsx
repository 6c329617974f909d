import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { Cell, Row, Table } from "../ui/table";
import { dayOf, figure } from "../ui/words";

/** How a question did in every sitting it was used in, with what was found and what its teacher thought of it. */
export function UsesTable({ uses }: { uses: Schemas["UseLine"][] }) {
  return (
    <Table
      caption={t`Sittings it was used in`}
      heads={[
        { label: t`Sitting` },
        { label: t`Students`, right: true },
        { label: "p", right: true },
        { label: "r", right: true },
      ]}
    >
      {uses.map((use) => (
        <Row key={use.title + use.held_on}>
          <Cell>
            {use.title}, {dayOf(use.held_on)}
            {!use.this_version && (
              <span className="block text-graphite">{t`It read otherwise then, or had another key.`}</span>
            )}
            {use.standing.map((found) => (
              <span key={found.heading} className={`block ${found.a_fault ? "text-clay" : "text-plum"}`}>
                {found.a_fault && "◆ "}
                {found.heading}{" "}
                <span className="text-graphite">{t`${Math.min(99, Math.round(100 * found.probability))} in 100`}</span>
              </span>
            ))}
            {use.notes.map((note) => (
              <span key={note} className="block text-graphite">
                {t`set aside: ${note}`}
              </span>
            ))}
          </Cell>
          <Cell right>{use.students}</Cell>
          <Cell right>{figure(use.difficulty)}</Cell>
          <Cell right>{figure(use.discrimination)}</Cell>
        </Row>
      ))}
    </Table>
  );
}
