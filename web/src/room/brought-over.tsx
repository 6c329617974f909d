import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answered, changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Choice, Field, Problem } from "../ui/field";
import { Line, Region } from "../ui/split-page";
import { momentOf } from "../ui/words";

type How = Schemas["ResponseTransferRequest"]["how"];
type Which = Schemas["ResponseTransferRequest"]["which"];
type Props = { sittingId: number; onClose: () => void };

const HOWS: Record<How, string> = {
  add: t`fill in what is missing there`,
  replace: t`put these in the place of those`,
};
const WHICHS: Record<Which, string> = { first: t`what each said first`, last: t`what each said at last` };

/** The lesson’s answers into an earlier sitting of the same test: what would change, then doing it, then taking it back. */
export function BroughtOver({ sittingId, onClose }: Props) {
  const [into, setInto] = useState<number | null>(null);
  const [how, setHow] = useState<How>("add");
  const [which, setWhich] = useState<Which>("first");
  const client = useQueryClient();
  const key = ["brought", sittingId];
  const params = { path: { sitting_id: sittingId } };
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/room/brought", { params })),
  });
  const places = found.data;
  const chosen = into ?? places?.earlier[0]?.sitting ?? null;
  const body = { into: chosen ?? 0, how, which };
  const effect = useQuery({
    queryKey: [...key, "look", body, places?.brought],
    enabled: chosen !== null,
    queryFn: () => read(api.POST("/api/v1/sittings/{sitting_id}/room/brought/look", { params, body })),
  });
  const change = useMutation({
    mutationFn: (make: () => Promise<Schemas["Places"]>) => make(),
    onSuccess: (page) => {
      answered(client, key, page);
      void changed(client, "sitting");
    },
  });
  if (!places) return null;
  const changing = (effect.data?.students.length ?? 0) > 0;
  return (
    <Dialog
      open
      wide
      onClose={onClose}
      title={t`Into an earlier sitting`}
      says={t`Both stay on record: the lesson as it was, and what stood in the other sitting before.`}
    >
      {places.earlier.length === 0 ? (
        <p>{t`There is no other sitting of this test with this class.`}</p>
      ) : (
        <>
          <div className="grid gap-x-5 sm:grid-cols-3">
            <Field label={t`Into`}>
              {(id) => (
                <Choice id={id} value={chosen ?? ""} onChange={(event) => setInto(Number(event.target.value))}>
                  {places.earlier.map((one) => (
                    <option key={one.sitting} value={one.sitting}>
                      {one.held ? momentOf(one.held) : ""} {one.in_the_room ? t`in the room` : t`online`}
                    </option>
                  ))}
                </Choice>
              )}
            </Field>
            <Field label={t`How`}>
              {(id) => (
                <Choice id={id} value={how} onChange={(event) => setHow(event.target.value as How)}>
                  {Object.entries(HOWS).map(([value, words]) => (
                    <option key={value} value={value}>
                      {words}
                    </option>
                  ))}
                </Choice>
              )}
            </Field>
            <Field label={t`Which answers`}>
              {(id) => (
                <Choice id={id} value={which} onChange={(event) => setWhich(event.target.value as Which)}>
                  {Object.entries(WHICHS).map(([value, words]) => (
                    <option key={value} value={value}>
                      {words}
                    </option>
                  ))}
                </Choice>
              )}
            </Field>
          </div>
          <Problem error={effect.error ?? change.error} />
          {effect.data && <Effect effect={effect.data} />}
          <Button
            variant="main"
            disabled={!changing || change.isPending}
            onClick={() =>
              change.mutate(() => read(api.POST("/api/v1/sittings/{sitting_id}/room/brought", { params, body })))
            }
          >
            {how === "add" ? t`Fill them in` : t`Replace them`}
          </Button>
        </>
      )}
      {places.brought.length > 0 && (
        <div className="mt-6">
          <Region name={t`What has been done`}>
            {places.brought.map((one) => (
              <Line
                key={one.number}
                margin={momentOf(one.at)}
                action={
                  !one.taken_back_at && (
                    <Button
                      disabled={change.isPending}
                      onClick={() =>
                        change.mutate(() =>
                          read(
                            api.POST("/api/v1/sittings/{sitting_id}/room/brought/{number}/back", {
                              params: { path: { sitting_id: sittingId, number: one.number } },
                            }),
                          ),
                        )
                      }
                    >{t`Take it back`}</Button>
                  )
                }
              >
                <Trans>
                  {plural(one.answers, { one: "# answer", other: "# answers" })} of{" "}
                  {plural(one.students, { one: "# student", other: "# students" })} into{" "}
                  <Link to={`/sittings/${one.into}`} className="underline underline-offset-2">
                    the sitting of {one.held ? momentOf(one.held) : t`that test`}
                  </Link>
                  , by {one.by}
                </Trans>
                {one.taken_back_at && (
                  <span className="text-graphite">{t`; taken back ${momentOf(one.taken_back_at)}`}</span>
                )}
              </Line>
            ))}
          </Region>
        </div>
      )}
    </Dialog>
  );
}

function Effect({ effect }: { effect: Schemas["Effect"] }) {
  const { filled, replaced, taken_away, students, without_a_seat } = effect;
  const parts = [
    filled && t`${plural(filled, { one: "# answer", other: "# answers" })} filled in`,
    replaced && t`${replaced} replaced`,
    taken_away && t`${taken_away} taken away, since nothing was given in the lesson`,
  ].filter(Boolean);
  return (
    <div role="status" className="mb-4 border-s-2 border-iris ps-3">
      <p>
        {parts.length === 0
          ? t`Nothing would change there.`
          : `${parts.join(", ")}: ${plural(students.length, { one: "# student", other: "# students" })} (${students.join(", ")}).`}
      </p>
      {without_a_seat.length > 0 && (
        <p className="text-graphite">{t`Without a seat in that sitting, and left out: ${without_a_seat.join(", ")}.`}</p>
      )}
    </div>
  );
}
