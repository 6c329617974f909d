import { t } from "@lingui/core/macro";
import type { Schemas } from "../../api/client";
import { inWords } from "../../ui/code-words";
import { plain } from "../../ui/rich";
import { figure } from "../../ui/words";

const HEADS = [
  t`Question`,
  t`Asks`,
  "p",
  t`r rest`,
  "D",
  t`Option`,
  t`Says`,
  t`Key`,
  t`Chosen by`,
  t`Lower third`,
  t`Middle`,
  t`Upper third`,
  t`Findings`,
];

/** The annotated paper as lines of a table: a line an option, or one where a question has none. */
export function paperRows(body: Schemas["FindingsPageBody"]) {
  return { heads: HEADS, rows: body.paper.flatMap((question) => linesOf(question, body)) };
}

function linesOf(question: Schemas["ReadQuestion"], body: Schemas["FindingsPageBody"]): string[][] {
  const { figures } = question;
  const head = [
    question.label,
    plain(question.stem),
    figure(figures?.p),
    figure(figures?.r_rest),
    figure(figures?.d_rest),
  ];
  const flags = body.flags.filter((flag) => flag.ref === question.ref);
  const found = flags.map((flag) => flag.says).join(" ");
  const options = [...question.options, ...question.parts];
  if (options.length === 0) return [[...head, "", "", "", "", "", "", "", found]];
  return options.map((option, at) => {
    const thirds = question.traces[at]?.thirds.map((share) => share.toFixed(1)) ?? ["", "", ""];
    const says = [option.part, option.text].filter(Boolean).join(": ");
    return [
      ...head,
      inWords(option.option),
      says,
      option.key ? t`yes` : "",
      String(option.seats.length),
      ...thirds,
      at === 0 ? found : "",
    ];
  });
}
