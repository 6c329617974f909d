import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useAddress } from "../api/address";
import type { Schemas } from "../api/client";
import { Bar } from "../ui/bar";
import { clock, useLeft } from "../ui/countdown";
import { Rich } from "../ui/rich";
import { Choices } from "./kinds";
import { useFit } from "./use-fit";

export type Wall = Schemas["Wall"];

/** What the projector shows: text as large as the place allows, in a window of its own or small on the console. */
export function WallView({ wall }: { wall: Wall }) {
  const shown = JSON.stringify([wall.stage, wall.question, wall.page, wall.spread, wall.names, wall.round]);
  const { host } = useAddress();
  const { outer, inner } = useFit<HTMLDivElement>(shown);
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-[2.5%] p-[3.5%] [container-type:size]">
      <div className="flex items-baseline justify-between gap-[3%] text-[max(0.75rem,2.4cqw)] leading-tight">
        <span className="text-graphite">
          {wall.number > 0 ? t`Question ${wall.number} of ${wall.of}` : wall.title}
          {wall.round > 1 && t`, asked again`}
        </span>
        {!["joining", "alone", "over"].includes(wall.stage) && (
          <span className="font-serif">
            <Trans>
              join at <strong>{host}/join</strong> with <strong className="whitespace-nowrap">{wall.code}</strong>
            </Trans>
          </span>
        )}
      </div>
      <div ref={outer} className="min-h-0 flex-1 overflow-hidden">
        <div ref={inner} className="font-serif leading-snug">
          <Body wall={wall} />
        </div>
      </div>
      {wall.question && <Foot wall={wall} />}
    </div>
  );
}

function Body({ wall }: { wall: Wall }) {
  const { host } = useAddress();
  if (wall.stage === "over")
    return (
      <div>
        <p className="text-[1.6em] font-semibold">{t`That was it.`}</p>
        <p className="text-graphite">{t`Thank you for your answers.`}</p>
      </div>
    );
  if (wall.stage === "joining" || wall.stage === "alone")
    return (
      <div className="flex flex-wrap items-center gap-[1.2em]">
        <img
          src={`/api/v1/sittings/${wall.sitting}/door.svg`}
          alt={t`Code for cameras that leads to ${host}/join with ${wall.code}`}
          className="size-[9em] border border-hairline bg-[#fff]"
        />
        <p>
          {t`join at`}
          <br />
          <strong className="text-[1.4em]">{t`${host}/join`}</strong>
          <br />
          <Trans>
            with <strong className="text-[1.4em] whitespace-nowrap">{wall.code}</strong>
          </Trans>
          <br />
          <span className="text-graphite">
            {wall.stage === "alone"
              ? t`Each at your own pace: ${wall.done} of ${wall.here} done`
              : t`${wall.here} here`}
          </span>
        </p>
      </div>
    );
  if (wall.page)
    return (
      <>
        {wall.page.title && <p className="mb-[0.4em] text-[1.3em] font-semibold">{wall.page.title}</p>}
        <Rich html={wall.page.body} />
      </>
    );
  if (!wall.question) return null;
  const { item } = wall.question;
  return (
    <>
      {wall.stimulus && (
        <div className="mb-[0.8em] border-s-2 border-hairline ps-[0.7em] text-[0.75em]">
          <Rich html={wall.stimulus.body} />
        </div>
      )}
      <div className="mb-[0.6em] text-[1.25em] leading-tight font-medium">
        <Rich html={item.stem} className="whitespace-pre-line" />
      </div>
      {wall.spread ? <Spread wall={wall} rows={wall.spread} /> : <Choices item={item} />}
      {wall.stage === "answer" && wall.rationale && (
        <div className="mt-[0.6em] text-[0.8em] text-graphite">
          <Rich html={wall.rationale} />
        </div>
      )}
    </>
  );
}

/** How many gave which answer; which is right only where the wall was told. */
function Spread({ wall, rows }: { wall: Wall; rows: Schemas["SpreadRow"][] }) {
  // The whole class is the full width, so that a bar says how many of them, whatever the others chose.
  const whole = Math.max(1, wall.here, wall.inside, ...rows.map((row) => row.students));
  if (rows.length === 0) return <p className="text-graphite">{t`No answers were given.`}</p>;
  return (
    <>
      <ul className="grid grid-cols-[auto_minmax(0,1.4fr)_auto_minmax(4em,1fr)] items-center gap-x-[0.7em] gap-y-[0.3em] text-[0.9em]">
        {rows.map((row) => (
          <li key={row.label + row.text} className={`contents ${row.right ? "font-semibold text-teal" : ""}`}>
            <strong>{row.label}</strong>
            <span className="min-w-0">
              {row.text}
              {row.right && " ✓"}
            </span>
            <span className="text-end">{row.students}</span>
            <Bar share={row.students / whole} right={row.right ?? false} thick="h-[0.8em]" />
          </li>
        ))}
      </ul>
      {wall.stage === "answer" && wall.right && !rows.some((row) => row.right) && (
        <p className="mt-[0.5em] font-semibold text-teal">✓ {wall.right}</p>
      )}
    </>
  );
}

function Foot({ wall }: { wall: Wall }) {
  const left = useLeft(wall);
  return (
    <div className="flex flex-wrap items-baseline justify-between gap-x-[3%] text-[max(0.75rem,2.4cqw)] leading-tight">
      <span>
        <strong>{wall.inside}</strong> <span className="text-graphite">{t`of ${wall.here} in`}</span>
        {wall.names && wall.names.length > 0 && <span className="ms-[1em] text-graphite">{wall.names.join(", ")}</span>}
      </span>
      {wall.collecting && left !== 0 ? (
        left !== null && <strong className={left <= 10 ? "text-clay" : ""}>{clock(left)}</strong>
      ) : (
        <span className="text-graphite">{t`collecting has stopped`}</span>
      )}
    </div>
  );
}
