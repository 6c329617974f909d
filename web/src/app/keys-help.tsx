import { Dialog } from "../ui/dialog";
import { KeyCap } from "../ui/key-cap";
import { Cell, Row, Table } from "../ui/table";

const KEYS = [
  ["Ctrl K", "Find any class, student, question, test or sitting"],
  ["J, K", "Findings: next and previous question to look at"],
  ["W", "Findings: the whole test"],
  ["1 to 7", "Findings: paper, map, table, totals, scale, groups, other sittings"],
  ["0 to 9, .", "Marking: a level, half a point more; arrows go to another criterion or answer, Enter keeps"],
  ["C, E, S, B", "Marking: comment, sample answers, stimulus, by question or by student"],
  ["A to H", "To settle: what the circles say; N for nothing, U takes the last one back"],
  ["N", "Bank, tests, sittings, classes: a new one"],
  ["?", "This list"],
] as const;

export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Keys">
      <Table caption="Keys" heads={[{ label: "Key" }, { label: "What it does" }]}>
        {KEYS.map(([key, does]) => (
          <Row key={key}>
            <Cell>
              <KeyCap>{key}</KeyCap>
            </Cell>
            <Cell>{does}</Cell>
          </Row>
        ))}
      </Table>
    </Dialog>
  );
}
