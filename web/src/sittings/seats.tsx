import type { Schemas } from "../api/client";
import { needsInWords } from "../classes/needs";
import { Region } from "../ui/spread";
import { Cell, Row, Table } from "../ui/table";
import { timeOf } from "../ui/words";

const LOOKS: Record<Schemas["SeatLine"]["state"], string> = {
  expected: "text-graphite",
  "at the door": "text-ochre",
  working: "text-ink",
  paused: "text-ochre",
  "handed in": "text-teal",
  absent: "text-graphite",
  excused: "text-graphite",
};
const SIGNS: Partial<Record<Schemas["SeatLine"]["state"], string>> = {
  "handed in": "● ",
  "at the door": "◐ ",
  paused: "◐ ",
};

/** Every seat in desk order, with how far each student is. */
export function Seats({ list, questions }: { list: Schemas["SeatLine"][]; questions: number }) {
  if (list.length === 0) return null;
  const forms = list.some((seat) => seat.form !== "A");
  return (
    <Region name="Seats">
      <Table
        caption="Seats in desk order"
        heads={[
          { label: "Desk", right: true },
          { label: "Student" },
          { label: "State", silent: true },
          { label: "Answered", right: true },
          { label: "Last sign", right: true },
        ]}
      >
        {list.map((seat) => (
          <Row key={seat.id}>
            <Cell right>
              <span className="text-graphite">{seat.desk}</span>
            </Cell>
            <Cell>
              <span className="font-serif text-base">{seat.name}</span>
              <span className="ml-2 text-graphite">
                {[...(forms ? [`form ${seat.form}`] : []), ...needsInWords(seat.needs)].join(", ")}
              </span>
            </Cell>
            <Cell>
              <span className={LOOKS[seat.state]}>
                {SIGNS[seat.state]}
                {seat.state}
              </span>
            </Cell>
            <Cell right>{seat.answered > 0 || seat.state === "working" ? `${seat.answered} of ${questions}` : ""}</Cell>
            <Cell right>
              <span className="text-graphite">{seat.last_seen ? timeOf(seat.last_seen) : ""}</span>
            </Cell>
          </Row>
        ))}
      </Table>
    </Region>
  );
}
