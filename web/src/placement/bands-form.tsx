import { t } from "@lingui/core/macro";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Choice, Field, TextArea, TextInput } from "../ui/field";
import { NumberInput } from "../ui/number-input";

type Band = Schemas["BandLine"];
type Props = { page: Schemas["PlacementPage"]; onKeep: (bands: Band[]) => void };

const MOST = 12;
const FIRST: Band[] = [
  { least: 50, recommends: "", says: "", goes_on: null },
  { least: 0, recommends: "", says: "", goes_on: null },
];

/** The bands, highest first: from which share on, what is recommended, what the letter says, what follows at once. */
export function BandsForm({ page, onKeep }: Props) {
  const [bands, setBands] = useState<Band[]>(page.bands.length ? [...page.bands].reverse() : FIRST);
  const editions = useQuery({ queryKey: ["editions"], queryFn: () => read(api.GET("/api/v1/editions")) });
  const set = (at: number, part: Partial<Band>) =>
    setBands(bands.map((band, place) => (place === at ? { ...band, ...part } : band)));
  return (
    <form
      className="pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(bands);
      }}
    >
      {bands.map((band, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a band is its place in the table
        <fieldset key={at} className="mb-3 border-b border-hairline pb-1">
          <legend className="sr-only">{t`Band ${at + 1}`}</legend>
          <div className="flex flex-wrap items-center gap-x-3 gap-y-2 pb-2">
            <span className="flex items-center gap-1.5">
              {t`from`}
              <NumberInput
                label={t`Band ${at + 1} from percent`}
                className="w-18!"
                min={0}
                max={100}
                value={band.least}
                onChange={(least) => set(at, { least: least ?? 0 })}
              />
              %
            </span>
            {bands.length > 1 && (
              <Button
                variant="quiet"
                className="ms-auto"
                aria-label={t`take away band ${at + 1}`}
                onClick={() => setBands(bands.filter((_, place) => place !== at))}
              >{t`take away`}</Button>
            )}
            <TextInput
              aria-label={t`Band ${at + 1} recommends`}
              placeholder={t`Course B, group 2, level 3`}
              required
              maxLength={60}
              value={band.recommends}
              onChange={(event) => set(at, { recommends: event.target.value })}
            />
          </div>
          <Field label={t`In the letter`}>
            {(id) => (
              <TextArea
                id={id}
                rows={2}
                maxLength={1000}
                placeholder={t`What this means for you, and what comes next.`}
                value={band.says}
                onChange={(event) => set(at, { says: event.target.value })}
              />
            )}
          </Field>
          {page.all_by_key && (
            <Field label={t`Goes on at once with`}>
              {(id) => (
                <Choice
                  id={id}
                  value={band.goes_on ?? ""}
                  onChange={(event) => set(at, { goes_on: event.target.value ? Number(event.target.value) : null })}
                >
                  <option value="">{t`nothing: this is the whole test`}</option>
                  {editions.data?.map((line) => (
                    <option key={line.id} value={line.id}>
                      {t`${line.title}, edition ${line.number}`}
                    </option>
                  ))}
                </Choice>
              )}
            </Field>
          )}
        </fieldset>
      ))}
      <div className="flex flex-wrap gap-3">
        <Button
          disabled={bands.length >= MOST}
          onClick={() => setBands([{ least: 100, recommends: "", says: "", goes_on: null }, ...bands])}
        >{t`One band more`}</Button>
        <Button type="submit" variant="main">{t`Keep the table`}</Button>
      </div>
    </form>
  );
}
