import { Dialog } from "../ui/dialog";
import { KeyCap } from "../ui/key-cap";
import { Cell, Row, Table } from "../ui/table";

const KEYS = [
  ["Ctrl K", "Find any class, student, question, test or sitting"],
  ["J, K", "Findings: next and previous question to look at"],
  ["W", "Findings: the whole test"],
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
