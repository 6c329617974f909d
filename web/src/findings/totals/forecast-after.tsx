import { t } from "@lingui/core/macro";
import type { Schemas } from "../../api/client";
import { Region } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { amount, figure } from "../../ui/words";

const FIGURES = {
  mean: [t`Mean`, amount],
  sd: [t`Standard deviation`, amount],
  reliability: [t`Alpha`, figure],
} as const;

/** What was foretold of the paper when it was frozen, beside what came. */
export function ForecastAfter({ forecast }: { forecast: Schemas["ForecastAfter"] }) {
  const { students, known, questions, lines, why_not } = forecast;
  return (
    <Region name={t`As foretold?`} remark={t`for a class of ${students}, ${known} of ${questions} questions known`}>
      {why_not ? (
        <p className="pt-2 text-sm text-graphite">
          {why_not === "too few"
            ? t`Too few students sat it to say how good the forecast was.`
            : t`Not all marks of the paper counted for everybody, so the forecast cannot be put beside what came.`}
        </p>
      ) : (
        <Table
          caption={t`What was foretold and what came`}
          heads={[
            { label: t`Figure` },
            { label: t`Foretold`, right: true },
            { label: t`Nine times in ten`, right: true },
            { label: t`Came`, right: true },
            { label: t`Whether it was as foretold`, silent: true },
          ]}
        >
          {lines.map((line) => {
            const [name, print] = FIGURES[line.figure];
            return (
              <Row key={line.figure}>
                <Cell>{name}</Cell>
                <Cell right>{print(line.middle)}</Cell>
                <Cell right>{t`${print(line.low)} to ${print(line.high)}`}</Cell>
                <Cell right>
                  <strong>{line.came === null ? "–" : print(line.came)}</strong>
                </Cell>
                <Cell>{line.came !== null && verdict(line.came, line.low, line.high)}</Cell>
              </Row>
            );
          })}
        </Table>
      )}
    </Region>
  );
}

function verdict(came: number, low: number, high: number) {
  if (came < low) return <span className="text-ochre">{t`◐ lower`}</span>;
  if (came > high) return <span className="text-ochre">{t`◐ higher`}</span>;
  return <span className="text-teal">{t`● as foretold`}</span>;
}
