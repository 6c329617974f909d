import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Disclosure } from "../ui/disclosure";
import { Choice, Problem, TextInput } from "../ui/field";
import { changedAt } from "../ui/lists";
import { NumberInput } from "../ui/number-input";
import { plain } from "../ui/rich";
import { Cell, Row, Table } from "../ui/table";
import { TakeOut } from "../ui/take-out";
import type { Draft } from "./draft";
import { LinesField } from "./kinds/parts";
import type { Content } from "./kinds/types";

type Variation = Schemas["Variation"];
type Named = Variation["values"][number];

/** Numbers that vary from draw to draw, the rules between them, and ten draws to look at. */
export function VariationEditor({ draft, onChange }: { draft: Draft; onChange: (content: Content) => void }) {
  const [looking, setLooking] = useState(false);
  const { content } = draft;
  const variation = content.variation ?? null;
  const set = (next: Variation | null) => onChange({ ...content, variation: next });
  if (!variation)
    return (
      <Disclosure name={t`Numbers that vary`} remark={t`every draw is another question of the same skill`}>
        <p className="mb-2 max-w-prose text-sm text-graphite">
          <Trans>
            Name values to draw from a range or a list. In any text, <code>@(a)</code> shows a value and{" "}
            <code>@(a*b)</code> one worked out from it.
          </Trans>
        </p>
        <Button onClick={() => set({ values: [range("a")], constraints: [] })}>{t`Let numbers vary`}</Button>
      </Disclosure>
    );
  const { values } = variation;
  const free = [..."abcdefghkmnpqrstuvwxyz"].find((name) => !values.some((value) => value.name === name)) ?? "z";
  return (
    <Disclosure name={t`Numbers that vary`} remark={values.map((value) => value.name).join(", ")} open>
      {values.map((value, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a value may be renamed while it is typed
        <div key={at} className="mb-2 flex flex-wrap items-center gap-2 text-sm">
          <TextInput
            aria-label={t`Name of value ${at + 1}`}
            className="w-20!"
            maxLength={12}
            value={value.name}
            onChange={(event) =>
              set({ ...variation, values: changedAt(values, at, { name: event.target.value } as Partial<Named>) })
            }
          />
          <Choice
            aria-label={t`How value ${at + 1} is drawn`}
            className="w-auto!"
            value={value.draw}
            onChange={(event) =>
              set({
                ...variation,
                values: values.map((old, place) =>
                  place === at ? (event.target.value === "list" ? list(old.name) : range(old.name)) : old,
                ),
              })
            }
          >
            <option value="range">{t`from a range`}</option>
            <option value="list">{t`from a list`}</option>
          </Choice>
          {value.draw === "range" ? (
            (["low", "high", "step"] as const).map((part) => (
              <label key={part} className="flex items-center gap-1.5">
                {{ low: t`from`, high: t`to`, step: t`in steps of` }[part]}
                <NumberInput
                  label={t`${part} of ${value.name}`}
                  className="w-20!"
                  value={value[part]}
                  onChange={(number) =>
                    number !== null &&
                    set({ ...variation, values: changedAt(values, at, { [part]: number } as Partial<Named>) })
                  }
                />
              </label>
            ))
          ) : (
            <TextInput
              aria-label={t`Values of ${value.name}`}
              className="w-56!"
              defaultValue={value.values.join("; ")}
              onBlur={(event) => {
                const numbers = event.target.value
                  .split(/[;\s]+/)
                  .filter(Boolean)
                  .map(Number);
                if (numbers.length > 0 && numbers.every(Number.isFinite))
                  set({ ...variation, values: changedAt(values, at, { values: numbers } as Partial<Named>) });
              }}
            />
          )}
          <TakeOut
            what={t`value ${value.name}`}
            onTake={() => set({ ...variation, values: values.filter((_, other) => other !== at) })}
          />
        </div>
      ))}
      <Button
        className="mb-3"
        onClick={() => set({ ...variation, values: [...values, range(free)] })}
      >{t`Add a value`}</Button>
      <LinesField
        label={t`Rules between them, one a line`}
        hint={t`a > b, or a/b != 2. A draw that breaks one is drawn again.`}
        values={variation.constraints}
        onChange={(constraints) => set({ ...variation, constraints })}
      />
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => setLooking(!looking)}>{looking ? t`Put the draws away` : t`Look at ten draws`}</Button>
        <Button variant="quiet" onClick={() => set(null)}>{t`stop varying`}</Button>
      </div>
      {looking && <Draws draft={draft} />}
    </Disclosure>
  );
}

const range = (name: string): Named => ({ draw: "range", name, low: 1, high: 10, step: 1 });
const list = (name: string): Named => ({ draw: "list", name, values: [1, 2, 5] });

function Draws({ draft }: { draft: Draft }) {
  const found = useQuery({
    queryKey: ["draws", draft],
    queryFn: () => read(api.POST("/api/v1/items/draws", { body: draft })),
    placeholderData: keepPreviousData,
  });
  return (
    <div className="mt-3">
      <Problem error={found.error} />
      <Table
        caption={t`Ten draws`}
        heads={[{ label: t`Values` }, { label: t`As students see it` }, { label: t`Key` }, { label: t`Drawn again` }]}
      >
        {found.data?.draws.map((draw) => (
          <Row key={draw.seed}>
            <Cell>
              {Object.entries(draw.values)
                .map(([name, value]) => `${name} ${value}`)
                .join(", ")}
            </Cell>
            <Cell>
              <span className="font-serif">{draw.item ? plain(draw.item.stem) : ""}</span>
              {draw.problem && <span className="block text-clay">◆ {draw.problem}</span>}
            </Cell>
            <Cell>{draw.key}</Cell>
            <Cell>
              {draw.refused.map((refused) => (
                <span key={refused} className="block text-graphite">
                  {refused}
                </span>
              ))}
            </Cell>
          </Row>
        ))}
      </Table>
    </div>
  );
}
