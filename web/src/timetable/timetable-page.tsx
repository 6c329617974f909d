import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { AskFirst } from "../ui/ask-first";
import { Button, ButtonLink } from "../ui/button";
import { Problem, TextInput } from "../ui/field";
import { Page, Region, SplitPage } from "../ui/split-page";
import { useSay } from "../ui/undo";

type Period = Schemas["PeriodLine"];

/** When the school's periods are, and the address under which one's own calendar reads what is planned. */
export function TimetablePage() {
  const timetable = useQuery({ queryKey: ["timetable"], queryFn: () => read(api.GET("/api/v1/timetable")) });
  const periods = timetable.data?.periods.length ?? 0;
  return (
    <Page
      title={t`Timetable and calendar`}
      facts={periods ? plural(periods, { one: "# period a day", other: "# periods a day" }) : ""}
      actions={<ButtonLink to="/sittings">{t`Sittings`}</ButtonLink>}
    >
      <Problem error={timetable.error} />
      {timetable.data && (
        <SplitPage
          split="even"
          names={{ left: t`Periods`, right: t`Your calendar` }}
          left={<Periods key={JSON.stringify(timetable.data)} timetable={timetable.data} />}
          right={<Calendar />}
        />
      )}
    </Page>
  );
}

function Periods({ timetable }: { timetable: Schemas["Timetable"] }) {
  const client = useQueryClient();
  const say = useSay();
  const [lines, setLines] = useState<Period[]>(timetable.periods);
  const keep = useMutation({
    mutationFn: (periods: Period[]) => read(api.PUT("/api/v1/timetable", { body: { periods } })),
    onSuccess: (page) => {
      const before = timetable.periods;
      answered(client, ["timetable"], page);
      say(t`The periods are kept.`, () => keep.mutateAsync(before));
    },
  });
  if (!timetable.may_change)
    return (
      <Region name={t`Periods of the school’s day`}>
        {lines.length === 0 && (
          <p className="py-3 text-graphite">{t`Nobody has said yet when they are. An administrator of the school can.`}</p>
        )}
        {lines.map((line) => (
          <p key={line.name} className="flex gap-4 border-b border-hairline py-2">
            <span className="w-28 font-semibold wrap-anywhere">{line.name}</span>
            {t`${line.starts.slice(0, 5)} to ${line.ends.slice(0, 5)}`}
          </p>
        ))}
      </Region>
    );
  const set = (at: number, part: Partial<Period>) =>
    setLines(lines.map((line, place) => (place === at ? { ...line, ...part } : line)));
  return (
    <Region name={t`Periods of the school’s day`}>
      <p className="py-2 text-graphite">{t`With them a sitting is planned for “Thursday, period 3”. They are the same for everybody in the school.`}</p>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate(lines);
        }}
      >
        {lines.map((line, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a line is its place until it is kept
          <div key={at} className="flex flex-wrap items-center gap-2 border-b border-hairline py-2">
            <TextInput
              className="w-32!"
              aria-label={t`Name of period ${at + 1}`}
              value={line.name}
              maxLength={40}
              onChange={(event) => set(at, { name: event.target.value })}
            />
            <TextInput
              className="w-28!"
              type="time"
              required
              aria-label={t`Period ${at + 1} begins`}
              value={line.starts.slice(0, 5)}
              onChange={(event) => set(at, { starts: event.target.value })}
            />
            <TextInput
              className="w-28!"
              type="time"
              required
              aria-label={t`Period ${at + 1} ends`}
              value={line.ends.slice(0, 5)}
              onChange={(event) => set(at, { ends: event.target.value })}
            />
            <Button
              variant="quiet"
              aria-label={t`Take period ${at + 1} out`}
              onClick={() => setLines(lines.filter((_, place) => place !== at))}
            >{t`take out`}</Button>
          </div>
        ))}
        <div className="mt-3 flex gap-3">
          <Button onClick={() => setLines([...lines, next(lines)])}>{t`Add a period`}</Button>
          {JSON.stringify(lines) !== JSON.stringify(timetable.periods) && (
            <Button type="submit" variant="main" disabled={keep.isPending}>{t`Keep them`}</Button>
          )}
        </div>
      </form>
      <Problem error={keep.error} />
    </Region>
  );
}

/** Begins five minutes after the last one ends and takes as long. */
function next(lines: Period[]): Period {
  const last = lines.at(-1);
  if (!last) return { name: "1", starts: "08:00", ends: "08:45" };
  const minutes = (at: string) => Number(at.slice(0, 2)) * 60 + Number(at.slice(3, 5));
  const words = (at: number) => `${String(Math.floor(at / 60)).padStart(2, "0")}:${String(at % 60).padStart(2, "0")}`;
  const lasts = Math.max(5, minutes(last.ends) - minutes(last.starts));
  const begins = Math.min(23 * 60, minutes(last.ends) + 5);
  return {
    name: String(lines.length + 1),
    starts: words(begins),
    ends: words(Math.min(23 * 60 + 59, begins + lasts)),
  };
}

function Calendar() {
  const client = useQueryClient();
  const say = useSay();
  const address = useQuery({ queryKey: ["calendar"], queryFn: () => read(api.GET("/api/v1/calendar")) });
  const anew = useMutation({
    mutationFn: () => read(api.POST("/api/v1/calendar")),
    onSuccess: (line) => {
      answered(client, ["calendar"], line);
      say(t`The old address leads nowhere now. Give your calendar the new one.`);
    },
  });
  const own = address.data?.address ?? "";
  return (
    <Region name={t`In your own calendar`}>
      <p className="py-2">{t`Give this address to the calendar on your phone or laptop as one to subscribe to. It then shows your sittings, and moves them when you do.`}</p>
      <p className="my-2 border border-hairline bg-page p-2 font-mono text-sm wrap-anywhere">{own}</p>
      <div className="flex flex-wrap gap-3">
        <Button
          onClick={() => navigator.clipboard?.writeText(own).then(() => say(t`The address is copied.`))}
        >{t`Copy it`}</Button>
        <AskFirst
          name={t`Make a new address`}
          title={t`Make a new address?`}
          says={t`Every calendar that has the old one stops showing your sittings, until it is given the new one.`}
          does={t`Make it`}
          onSure={() => anew.mutate()}
        />
      </div>
      <p className="mt-3 text-sm text-graphite">{t`Whoever knows the address sees when your classes sit what. It shows no answer and no mark.`}</p>
      <Problem error={address.error ?? anew.error} />
    </Region>
  );
}
