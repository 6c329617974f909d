import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { Cell, Row, Table } from "../ui/table";
import { amount, momentOf } from "../ui/words";
import type { SeatLine } from "./use-sitting";

type Props = { sittingId: number; seat: SeatLine; onClose: () => void };

/** What a student handed in before the attempt that counts. */
export function EarlierAttempts({ sittingId, seat, onClose }: Props) {
  const found = useQuery({
    queryKey: ["attempts", sittingId, seat.id, seat.attempt],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/seats/{seat_id}/attempts", {
          params: { path: { sitting_id: sittingId, seat_id: seat.id } },
        }),
      ),
  });
  return (
    <Dialog
      open
      onClose={onClose}
      title={t`Earlier attempts of ${seat.name}`}
      says={t`By the key, without what a person marks. The last attempt is the one that counts.`}
    >
      <Problem error={found.error} />
      <Table
        caption={t`Earlier attempts`}
        heads={[{ label: t`Attempt` }, { label: t`Handed in` }, { label: t`Marks`, right: true }]}
      >
        {found.data?.map((one) => (
          <Row key={one.number}>
            <Cell>{one.number}</Cell>
            <Cell>{one.handed_in_at && momentOf(one.handed_in_at)}</Cell>
            <Cell right>{t`${amount(one.total)} of ${amount(one.of)}`}</Cell>
          </Row>
        ))}
      </Table>
    </Dialog>
  );
}
