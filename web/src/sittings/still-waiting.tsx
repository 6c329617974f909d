import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Problem } from "../ui/field";
import { Line, Region } from "../ui/spread";

type Sitting = Schemas["SittingPage"];
type Seat = Schemas["SeatLine"];
type Absence = Schemas["Absence"]["state"];

/** Who is missing, by name, with the one thing to do about it; who came, in one paragraph. */
export function StillWaiting({ sitting }: { sitting: Sitting }) {
  const client = useQueryClient();
  const mark = useMutation({
    mutationFn: ({ seat, state }: { seat: number; state: Absence }) =>
      read(
        api.PUT("/api/sittings/{sitting_id}/seats/{seat_id}", {
          params: { path: { sitting_id: sitting.id, seat_id: seat } },
          body: { state },
        }),
      ),
    onSuccess: (changed) => client.setQueryData(["sitting", sitting.id], changed),
  });
  const of = (...states: Seat["state"][]) => sitting.list.filter((seat) => states.includes(seat.state));
  const closed = sitting.state === "closed" || sitting.state === "released";
  const missing = of("expected", "at the door");
  const away = of("absent", "excused");
  const working = of("working", "paused");
  const done = of("handed in");
  return (
    <>
      <Problem error={mark.error} />
      {!closed && sitting.list.length > 0 && (
        <Region name={missing.length > 0 ? `Not here yet: ${missing.length}` : "Everyone is here"}>
          {missing.map((seat) => (
            <Line
              key={seat.id}
              action={
                <Button
                  look="quiet"
                  onClick={() => mark.mutate({ seat: seat.id, state: "absent" })}
                  aria-label={`${seat.name} is absent`}
                >
                  absent
                </Button>
              }
            >
              <span className="mr-2 text-sm text-graphite">{seat.desk}</span>
              <span className="font-serif text-lg">{seat.name}</span>
              {seat.state === "at the door" && <span className="ml-2 text-sm text-ochre">◐ at the door</span>}
            </Line>
          ))}
        </Region>
      )}
      {working.length > 0 && <Names name={`At work: ${working.length}`} seats={working} />}
      {done.length > 0 && <Names name={`Handed in: ${done.length}`} seats={done} />}
      {away.length > 0 && (
        <Region name={`Have not sat it: ${away.length}`}>
          {away.map((seat) => {
            const other: Absence = seat.state === "absent" ? "excused" : "absent";
            return (
              <Line
                key={seat.id}
                action={
                  <>
                    <Button
                      look="quiet"
                      onClick={() => mark.mutate({ seat: seat.id, state: other })}
                      aria-label={`${seat.name} is ${other}`}
                    >
                      {other}
                    </Button>
                    {!closed && (
                      <Button
                        look="quiet"
                        onClick={() => mark.mutate({ seat: seat.id, state: "expected" })}
                        aria-label={`${seat.name} is expected`}
                      >
                        expected
                      </Button>
                    )}
                  </>
                }
              >
                <span className="font-serif text-lg">{seat.name}</span>{" "}
                <span className="text-sm text-graphite">{seat.state}</span>
              </Line>
            );
          })}
          {closed && (
            <p className="py-2 text-sm text-graphite">
              To let someone sit it, open the sitting again: those who handed in stay as they are.
            </p>
          )}
        </Region>
      )}
    </>
  );
}

function Names({ name, seats }: { name: string; seats: Seat[] }) {
  return (
    <Region name={name}>
      <p className="py-2 leading-relaxed text-graphite">
        {seats.map((seat, place) => (
          <span key={seat.id}>
            {place > 0 && ", "}
            <strong className="text-ink">{seat.desk}</strong> {seat.name}
          </span>
        ))}
      </p>
    </Region>
  );
}
