import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { api, read } from "../api/client";
import { Disclosure } from "../ui/disclosure";
import { timeOf } from "../ui/words";

/** What was done with a sitting, when and by whom. */
export function SittingEvents({ sittingId }: { sittingId: number }) {
  const events = useQuery({
    queryKey: ["sitting-events", sittingId],
    queryFn: () =>
      read(api.GET("/api/v1/sittings/{sitting_id}/events", { params: { path: { sitting_id: sittingId } } })),
  });
  if (!events.data || events.data.length === 0) return null;
  return (
    <Disclosure name={t`On record`} remark={t`${events.data.length} so far`}>
      <ol className="text-sm">
        {events.data.map((event, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a record is only added to at its head
          <li key={events.data.length - at} className="flex gap-3 py-0.5">
            <span className="shrink-0 text-graphite">{timeOf(event.at)}</span>
            <span className="min-w-0">
              {event.name && <strong>{event.name}: </strong>}
              {event.says}
              {event.by && <span className="text-graphite">, {event.by}</span>}
            </span>
          </li>
        ))}
      </ol>
    </Disclosure>
  );
}
