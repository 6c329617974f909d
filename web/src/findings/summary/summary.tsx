import { t } from "@lingui/core/macro";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { inWords } from "../../ui/code-words";
import { Opening } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { either, figure, percent } from "../../ui/words";
import { FlagSign } from "../flag-sign";

type Question = Schemas["ReadQuestion"];
type Props = { sittingId: number; body: Schemas["FindingsPageBody"] };

/** Every question on one page: key, who chose what, upper and lower group, figures, flags. */
export function Summary({ sittingId, body }: Props) {
  const shown = body.paper.filter((one) => one.figures);
  return (
    <div className="min-h-0 flex-1 overflow-auto px-6 py-4">
      <Opening>{body.opening}</Opening>
      <Table
        caption={t`All questions in figures`}
        heads={[
          { label: t`No.`, right: true },
          { label: t`Key` },
          { label: t`Chosen by` },
          { label: t`Earned`, right: true },
          { label: t`Upper`, right: true },
          { label: t`Lower`, right: true },
          { label: "D", right: true },
          { label: t`r rest`, right: true },
          { label: t`α without`, right: true },
          { label: t`To look at` },
        ]}
      >
        {shown.map((one) => {
          const flags = body.flags.filter((flag) => flag.ref === one.ref);
          return (
            <Row key={one.ref} selected={flags.some((flag) => flag.urgent)}>
              <Cell right>
                <Link to={`/findings/${sittingId}?question=${one.number}`} className="font-semibold hover:underline">
                  {one.label}
                </Link>
              </Cell>
              <Cell>{keysOf(one)}</Cell>
              <Cell>
                <span className="text-sm whitespace-nowrap">{chosen(one)}</span>
              </Cell>
              <Cell right>{percent(one.figures?.p)}</Cell>
              <Cell right>{percent(ofKeys(one, "upper"))}</Cell>
              <Cell right>{percent(ofKeys(one, "lower"))}</Cell>
              <Cell right>{figure(one.figures?.d_rest)}</Cell>
              <Cell right>{figure(one.figures?.r_rest)}</Cell>
              <Cell right>{figure(one.figures?.alpha_without)}</Cell>
              <Cell>
                {flags.map((flag) => (
                  <span key={flag.flag + flag.options.join()} className="block text-sm">
                    <FlagSign flag={flag} />
                  </span>
                ))}
              </Cell>
            </Row>
          );
        })}
      </Table>
      <p className="mt-2 text-xs text-graphite">
        {t`Upper and lower: who chose the key, of the best and of the weakest. D is the difference of what the strongest and the weakest on the other questions earned. r rest: how well it agrees with the other questions. α without: how dependable the totals would be without it.`}
        {shown.length < body.paper.length && t` Questions that wait for a person, or were not asked, are not here.`}
      </p>
    </div>
  );
}

const keysOf = (one: Question) =>
  either(one.options.filter((option) => option.key).map((option) => inWords(option.option)));

/** How many chose each answer, the key marked; of longer answers only the most given. */
function chosen(one: Question): string {
  if (one.options.length === 0) return "";
  const letters = one.options.every((option) => option.option.length <= 2);
  const some = letters ? one.options : [...one.options].sort((a, b) => b.seats.length - a.seats.length).slice(0, 3);
  const words = some.map((option) => `${inWords(option.option)}${option.key ? "✓" : ""} ${option.seats.length}`);
  if (one.not_given.length) words.push(`– ${one.not_given.length}`);
  return words.join(" · ");
}

function ofKeys(one: Question, group: "upper" | "lower"): number | null {
  const keys = (one.figures?.options ?? []).filter((option) => option.key);
  if (keys.length === 0) return null;
  return keys.reduce((sum, option) => sum + (option[group] ?? 0), 0);
}
