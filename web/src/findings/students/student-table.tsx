import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../../api/client";
import { Choice, Problem } from "../../ui/field";
import { LongTable } from "../../ui/long-table";
import { Opening } from "../../ui/split-page";
import { amount, figure, namesIn, percent } from "../../ui/words";
import { useScope } from "../use-analysis-filter";

type Data = Schemas["StudentTable"];
const ROW = 26;
const STRANGE = 0.5;

type Order = "order" | "desk" | "caution";
const ORDERS: Record<Order, string> = {
  order: t`best and easiest first`,
  desk: t`by desk and number`,
  caution: t`the most unexpected first`,
};

/** Students by questions, best and easiest first, with the line where right answers are expected to end. */
export function StudentTable({ sittingId }: { sittingId: number }) {
  const { query, key } = useScope();
  const found = useQuery({
    queryKey: ["findings", sittingId, "table", key],
    queryFn: () =>
      read(
        api.GET("/api/v1/sittings/{sitting_id}/findings/table", { params: { path: { sitting_id: sittingId }, query } }),
      ),
    placeholderData: keepPreviousData,
  });
  const [order, setOrder] = useState<Order>("order");
  if (!found.data)
    return (
      <div className="px-6 py-4">
        <Problem error={found.error} />
      </div>
    );
  const data = found.data;
  const rows = sorted(
    data.students.map((_, at) => at),
    order,
    (at) => data.students[at]?.desk ?? 0,
    (at) => data.students[at]?.caution ?? -1,
  );
  const columns = sorted(
    data.items.map((_, at) => at),
    order,
    (at) => data.items[at]?.number ?? 0,
    (at) => data.items[at]?.caution ?? -1,
  );
  const notTaken = data.points.some((row) => row.includes(null));
  return (
    <div className="flex min-h-0 flex-1 flex-col px-6 py-4">
      <Opening>{opening(data)}</Opening>
      <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-1 text-sm text-graphite">
        <Choice
          low
          className="w-auto!"
          aria-label={t`Order`}
          value={order}
          onChange={(event) => setOrder(event.target.value as Order)}
        >
          {(Object.entries(ORDERS) as [Order, string][]).map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </Choice>
        <span>
          {t`■ full marks, ◧ part, a letter is what was chosen instead, – nothing`}
          {notTaken && t`, blank: not taken`}
        </span>
        {order === "order" && <span>{t`│ so many right: expected to the left of it`}</span>}
        <span>
          <Trans>
            Caution: 0 as expected, 1 as by chance. <strong>{figure(STRANGE)} and more is worth a word.</strong>
          </Trans>
        </span>
      </div>
      <LongTable
        name={t`Students by questions`}
        height={ROW}
        rows={rows.length}
        heads={
          <>
            <tr>
              <Head stick>{t`Student`}</Head>
              <Head>{t`Total`}</Head>
              <Head>{t`Caution`}</Head>
              {columns.map((j) => (
                <Head key={data.items[j]?.ref} title={t`${percent(data.items[j]?.p)} of the marks`}>
                  {data.items[j]?.label}
                </Head>
              ))}
            </tr>
            <tr className="text-xs text-graphite">
              <th
                scope="row"
                className="sticky start-0 z-10 bg-page px-2 text-start font-normal"
              >{t`Caution of the question`}</th>
              <td />
              <td />
              {columns.map((j) => (
                <td key={data.items[j]?.ref} className="px-1 text-center">
                  <Caution value={data.items[j]?.caution ?? null} />
                </td>
              ))}
            </tr>
          </>
        }
        row={(at) => {
          const i = rows[at] ?? 0;
          return <Line key={data.students[i]?.seat} data={data} at={i} columns={columns} curve={order === "order"} />;
        }}
      />
    </div>
  );
}

function sorted(places: number[], order: Order, number: (at: number) => number, caution: (at: number) => number) {
  if (order === "order") return places;
  if (order === "desk") return places.sort((a, b) => number(a) - number(b));
  return places.sort((a, b) => caution(b) - caution(a));
}

function Head({ children, stick = false, title }: { children: React.ReactNode; stick?: boolean; title?: string }) {
  return (
    <th
      scope="col"
      title={title}
      className={`sticky top-0 border-b border-edge bg-page px-1.5 py-1 text-center font-semibold ${stick ? "start-0 z-20 min-w-36 text-start" : "z-10"}`}
    >
      {children}
    </th>
  );
}

type LineProps = { data: Data; at: number; columns: number[]; curve: boolean };

function Line({ data, at, columns, curve }: LineProps) {
  const student = data.students[at];
  if (!student) return null;
  return (
    <tr style={{ height: ROW }}>
      <th
        scope="row"
        className="sticky start-0 z-10 border-b border-hairline bg-page px-2 text-start font-serif font-normal whitespace-nowrap"
      >
        {student.name}
      </th>
      <td className="border-b border-hairline px-1.5 text-end font-semibold">
        {amount(student.total, student.total % 1 ? 1 : 0)}
      </td>
      <td className="border-b border-hairline px-1.5 text-center">
        <Caution value={student.caution} />
      </td>
      {columns.map((j, place) => {
        const taken = data.points[at]?.[j] !== null;
        const points = data.points[at]?.[j] ?? 0;
        const full = points >= (data.items[j]?.max ?? 0) - 1e-9;
        const pick = data.picks[at]?.[j] ?? "";
        return (
          <td
            key={data.items[j]?.ref}
            className={`min-w-7 border-b border-hairline text-center ${full ? "text-teal" : points > 0 ? "text-ochre" : "text-clay"} ${curve && place + 1 === data.student_curve[at] ? "border-e-2 border-e-iris" : ""}`}
          >
            {!taken ? <span className="sr-only">{t`not taken`}</span> : full ? "■" : points > 0 ? "◧" : pick || "–"}
          </td>
        );
      })}
    </tr>
  );
}

function Caution({ value }: { value: number | null }) {
  if (value === null) return <span className="text-graphite">–</span>;
  return (
    <span className={value >= STRANGE ? "font-semibold text-plum" : "text-graphite"}>{figure(Math.max(0, value))}</span>
  );
}

function opening(data: Data): string {
  const strange = (some: { caution: number | null }[]) => some.filter((one) => (one.caution ?? 0) >= STRANGE);
  const students = strange(data.students) as Data["students"];
  const items = strange(data.items) as Data["items"];
  const who = students.length
    ? t`${plural(students.length, { one: "One student answers", other: "# students answer" })} otherwise than their total leads one to expect: ${namesIn(students.slice(0, 6).map((student) => student.name))}`
    : t`Everybody answers about as their total leads one to expect.`;
  const list = items.map((item) => item.label).join(", ");
  const what = items.length
    ? t` ${plural(items.length, { one: `Question ${list} divides`, other: `Questions ${list} divide` })} the class in another way than the rest.`
    : "";
  return who + what;
}
