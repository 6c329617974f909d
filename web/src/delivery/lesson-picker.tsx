import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read } from "../api/client";
import { Choice } from "../ui/field";
import { longDayOf } from "../ui/words";
import { dayOfLesson, momentOfLesson } from "./lessons";

const DAYS_AHEAD = 21;

type Props = { value: string | null; onChange: (at: string) => void };

/** “Thursday, period 3” in place of a date and an hour; only where the school has said when its periods are. */
export function LessonPicker({ value, onChange }: Props) {
  const timetable = useQuery({
    queryKey: ["timetable"],
    queryFn: () => read(api.GET("/api/v1/timetable")),
    staleTime: 60_000,
  });
  const [day, setDay] = useState(value ? dayOfLesson(new Date(value)) : "");
  const [period, setPeriod] = useState("");
  const periods = timetable.data?.periods ?? [];
  if (periods.length === 0) return null;
  const days = Array.from({ length: DAYS_AHEAD }, (_, ahead) => {
    const date = new Date();
    date.setDate(date.getDate() + ahead);
    return date;
  });
  const choose = (nextDay: string, nextPeriod: string) => {
    setDay(nextDay);
    setPeriod(nextPeriod);
    const chosen = periods.find((one) => one.name === nextPeriod);
    if (nextDay && chosen) onChange(momentOfLesson(nextDay, chosen.starts).toISOString());
  };
  return (
    <fieldset className="mb-4 sm:col-span-2">
      <legend className="text-sm text-graphite">{t`Or by the timetable`}</legend>
      <div className="flex gap-3">
        <Choice aria-label={t`Day`} value={day} onChange={(event) => choose(event.target.value, period)}>
          <option value="">{t`Day`}</option>
          {days.map((date) => (
            <option key={dayOfLesson(date)} value={dayOfLesson(date)}>
              {longDayOf(date)}
            </option>
          ))}
        </Choice>
        <Choice aria-label={t`Period`} value={period} onChange={(event) => choose(day, event.target.value)}>
          <option value="">{t`Period`}</option>
          {periods.map((one) => (
            <option key={one.name} value={one.name}>
              {t`${one.name}, ${one.starts.slice(0, 5)} to ${one.ends.slice(0, 5)}`}
            </option>
          ))}
        </Choice>
      </div>
    </fieldset>
  );
}
