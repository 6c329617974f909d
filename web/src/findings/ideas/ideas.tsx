import { t } from "@lingui/core/macro";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { Empty, Opening, Region } from "../../ui/split-page";
import { Cell, Row, Table } from "../../ui/table";
import { percent } from "../../ui/words";

type Props = { sittingId: number; body: Schemas["FindingsPageBody"] };

/** Every idea that stands beside a wrong answer, likeliest first: how likely it is at work, how many hold it, where. */
export function IdeasView({ sittingId, body }: Props) {
  const labels = new Map(body.paper.map((question) => [question.ref, question]));
  const ideas = [...body.ideas].sort((one, other) => other.p - one.p || other.expected - one.expected);
  if (ideas.length === 0)
    return (
      <div className="px-6">
        <Empty
          title={t`No idea stands beside an answer of this test.`}
        >{t`In the bank, write beside a wrong answer what somebody thinks who gives it. The next sitting then counts how many think so.`}</Empty>
      </div>
    );
  return (
    <div className="min-h-0 flex-1 overflow-auto px-6 py-4">
      <Opening>{body.opening}</Opening>
      <Table
        caption={t`Ideas, the likeliest first`}
        heads={[
          { label: t`What some may think` },
          { label: t`At work here`, right: true },
          { label: t`Hold it, of ${body.test.students}`, right: true },
          { label: t`Answers that show it, and how many gave them` },
        ]}
      >
        {ideas.map((idea) => (
          <Row key={idea.idea} selected={idea.p >= 0.5}>
            <Cell>
              <span className="font-serif wrap-anywhere">{idea.idea}</span>
            </Cell>
            <Cell right>{chance(idea.p)}</Cell>
            <Cell right>
              {idea.p >= 0.5 ? (
                <span className="whitespace-nowrap">{t`${Math.round(idea.expected)} (${idea.low} to ${idea.high})`}</span>
              ) : (
                <span className="text-graphite">–</span>
              )}
            </Cell>
            <Cell>
              {idea.signs.map((sign) => {
                const question = labels.get(sign.item);
                return (
                  <Link
                    key={`${sign.item} ${sign.option}`}
                    to={`/findings/${sittingId}?question=${question?.number ?? 1}`}
                    className="me-3 whitespace-nowrap underline underline-offset-2"
                  >
                    {`${question?.label ?? ""}: ${sign.option} (${sign.chosen})`}
                  </Link>
                );
              })}
            </Cell>
          </Row>
        ))}
      </Table>
      <p className="mt-2 max-w-prose text-xs text-graphite">
        {t`At work here: how likely it is that more than guessing leads to these answers. Of an idea that is rather not at work nothing is counted. The range holds the number nine times in ten.`}
      </p>
      {body.gone_ideas.length > 0 && (
        <Region name={t`Ideas that show no more`}>
          {body.gone_ideas.map((says) => (
            <p key={says} className="border-b border-hairline py-2.5">
              {says}
            </p>
          ))}
        </Region>
      )}
    </div>
  );
}

/** Nothing that rests on the answers of one class is certain. */
const chance = (p: number) => (p > 0.99 ? t`over 99%` : p < 0.01 ? t`under 1%` : percent(p));
