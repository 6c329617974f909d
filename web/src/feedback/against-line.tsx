import { t } from "@lingui/core/macro";
import type { Schemas } from "../api/client";
import { LineUpChart } from "../ui/charts/line-up-chart";
import { Choice } from "../ui/field";
import { useInAddress } from "../ui/in-address";
import { Opening } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { percent } from "../ui/words";

const LINES = [30, 40, 50, 60, 65, 70, 75, 80, 85, 90, 95];
const WHOLE = t`the whole test`;

/** Students against a line, by the whole test or by one skill: the furthest below it first. */
export function LineUp({ page }: { page: Schemas["ClassBySkill"] }) {
  const [line, setLine] = useInAddress("line", "60");
  const [by, setBy] = useInAddress("by", WHOLE);
  const at = page.skills.findIndex((skill) => skill.name === by);
  const rows = page.students
    .flatMap(({ seat: id, name, whole, cells }) => {
      const share = at < 0 ? whole : (cells[at]?.share ?? null);
      return share === null ? [] : [{ id, name, share }];
    })
    .sort((a, b) => a.share - b.share);
  const least = (Number(line) || 60) / 100;
  const under = rows.filter((row) => row.share < least - 1e-9);
  return (
    <>
      <p className="mb-3 flex flex-wrap items-center gap-2 text-sm">
        {t`by`}
        <Choice low className="w-auto!" aria-label={t`By`} value={by} onChange={(event) => setBy(event.target.value)}>
          <option value={WHOLE}>{WHOLE}</option>
          {page.skills.map((skill) => (
            <option key={skill.name} value={skill.name}>
              {skill.name}
            </option>
          ))}
        </Choice>
        {t`against`}
        <Choice
          low
          className="w-auto!"
          aria-label={t`The line`}
          value={line}
          onChange={(event) => setLine(event.target.value)}
        >
          {LINES.map((one) => (
            <option key={one} value={one}>
              {one}%
            </option>
          ))}
        </Choice>
      </p>
      <Opening>
        {under.length === 0
          ? t`All ${rows.length} reach ${percent(least)} of the marks.`
          : t`${under.length} of ${rows.length} are under ${percent(least)} of the marks.`}
      </Opening>
      <LineUpChart rows={rows} line={least} title={at < 0 ? t`The whole test` : by} />
      <details className="mt-2 text-sm">
        <summary>{t`In figures`}</summary>
        <Table
          caption={t`Students against the line`}
          heads={[{ label: t`Student` }, { label: t`Share`, right: true }, { label: t`To the line`, right: true }]}
        >
          {rows.map((row) => (
            <Row key={row.id}>
              <Cell>{row.name}</Cell>
              <Cell right>{percent(row.share)}</Cell>
              <Cell right>{percent(row.share - least)}</Cell>
            </Row>
          ))}
        </Table>
      </details>
    </>
  );
}
