import { plural, t } from "@lingui/core/macro";
import { Fragment, useState } from "react";
import type { Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Region } from "../ui/split-page";
import type { ConsolePage } from "./use-room";

type Seat = Schemas["SeatNow"];
type Props = { page: ConsolePage; onAnswerFor: (seat: number, letter: string) => void };

/** Who is still missing first, by name; then who is in. */
export function WhoIsIn({ page, onAnswerFor }: Props) {
  const [helping, setHelping] = useState(false);
  const question = page.wall.number > 0;
  const here = page.waiting.filter((seat) => seat.where !== "not joined");
  const notJoined = page.waiting.filter((seat) => seat.where === "not joined");
  const remark = t`${page.class_name} · ${page.wall.here} here${page.away.length ? t`, ${page.away.length} away` : ""}`;
  return (
    <>
      {question && (
        <Region name={t`Still waiting for ${here.length}`} remark={remark}>
          <ul>
            {here.map((seat) => (
              <li key={seat.seat} className="flex items-baseline gap-3 border-b border-hairline py-1.5">
                <span className="w-6 shrink-0 text-end text-graphite">{seat.desk}</span>
                <span className="min-w-0 flex-1 font-serif text-lg">{seat.name}</span>
                <span className={`text-sm ${seat.trouble ? "text-ochre" : "text-graphite"}`}>{seat.where}</span>
              </li>
            ))}
          </ul>
          {here.length === 0 && <p className="py-3 text-graphite">{t`Everyone who is here is in.`}</p>}
        </Region>
      )}
      {(notJoined.length > 0 || !question) && (
        <Region name={t`Not here yet: ${notJoined.length}`} remark={question ? undefined : remark}>
          <Names seats={notJoined} />
          {notJoined.length === 0 && <p className="py-3 text-graphite">{t`Everyone is here.`}</p>}
        </Region>
      )}
      {page.letters.length > 0 && page.wall.collecting && page.waiting.length > 0 && (
        <p className="mb-5">
          <Button onClick={() => setHelping(true)}>{t`Answer for someone…`}</Button>
        </p>
      )}
      {question && <WhoAnswered inside={page.inside} />}
      {helping && (
        <Dialog
          open
          onClose={() => setHelping(false)}
          title={t`Answer for someone`}
          says={t`It is kept as entered by you. They can still change it on their own device.`}
        >
          <ul>
            {page.waiting.map((seat) => (
              <li key={seat.seat} className="flex flex-wrap items-center gap-2 border-b border-hairline py-1.5">
                <span className="min-w-0 flex-1 font-serif">{seat.name}</span>
                {page.letters.map((letter) => (
                  <Button
                    key={letter}
                    aria-label={t`${letter} for ${seat.name}`}
                    onClick={() => onAnswerFor(seat.seat, letter)}
                  >
                    {letter}
                  </Button>
                ))}
              </li>
            ))}
          </ul>
          {page.waiting.length === 0 && <p className="text-graphite">{t`Everyone is in.`}</p>}
        </Dialog>
      )}
    </>
  );
}

/** Whose answers are in, and by what they came. */
export function WhoAnswered({ inside }: { inside: Seat[] }) {
  if (inside.length === 0) return null;
  return (
    <Region name={t`In, ${inside.length}`} remark={sources(inside)}>
      <Names seats={inside} />
    </Region>
  );
}

/** By desk number, in a few lines. */
function Names({ seats }: { seats: Seat[] }) {
  return (
    <p className="pt-2 leading-relaxed">
      {seats.map((seat, at) => (
        <Fragment key={seat.seat}>
          {/* A number never ends a line without its name. */}
          <span className="inline-block">
            <strong>{seat.desk}</strong> {seat.name}
            {at < seats.length - 1 && ","}
          </span>{" "}
        </Fragment>
      ))}
    </p>
  );
}

const COUNTED: Record<string, (count: number) => string> = {
  device: (count) => plural(count, { one: "# device", other: "# devices" }),
  pad: (count) => plural(count, { one: "# pad", other: "# pads" }),
  card: (count) => plural(count, { one: "# card", other: "# cards" }),
  teacher: (count) => t`${count} by you`,
};

function sources(inside: Seat[]): string {
  const counts = new Map<string, number>();
  for (const { source } of inside) counts.set(source, (counts.get(source) ?? 0) + 1);
  return [...counts].map(([source, count]) => COUNTED[source]?.(count) ?? "").join(" · ");
}
