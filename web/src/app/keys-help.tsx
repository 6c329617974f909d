import { t } from "@lingui/core/macro";
import { Dialog } from "../ui/dialog";
import { KeyCap } from "../ui/key-cap";
import { Cell, Row, Table } from "../ui/table";

const KEYS = [
  [t`Ctrl K`, t`Find any class, student, question, test or sitting`],
  [t`J, K`, t`Findings: next and previous question to look at`],
  ["W", t`Findings: the whole test`],
  [t`0 to 9`, t`Findings: the looks, in their order`],
  [t`0 to 9, .`, t`Marking: a level, half a point more; arrows go to another criterion or answer, Enter keeps`],
  [t`C, E, S, B`, t`Marking: comment, sample answers, stimulus, by question or by student`],
  [t`A to H`, t`To settle: what the circles say; N for nothing, U takes the last one back`],
  ["N", t`Bank, tests, sittings, classes: a new one`],
  ["?", t`This list`],
] as const;

export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title={t`Keys`}>
      <Table caption={t`Keys`} heads={[{ label: t`Key` }, { label: t`What it does` }]}>
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
