import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button } from "../ui/button";
import { Disclosure } from "../ui/disclosure";
import { Choice, Problem } from "../ui/field";
import { Cell, Row, Table } from "../ui/table";

const LOOK_AGAIN = 4_000;

/** The pads that were heard: at whose desk, how charged, when last; and how a receiver finds the way. */
export function PadsTable({ sittingId }: { sittingId: number }) {
  const client = useQueryClient();
  const key = ["pads", sittingId];
  const params = { path: { sitting_id: sittingId } };
  const pads = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/room/pads", { params })),
    refetchInterval: LOOK_AGAIN,
  });
  const change = useMutation({
    mutationFn: (make: () => Promise<Schemas["PadsPage"]>) => make(),
    onSuccess: (page) => answered(client, key, page),
  });
  const page = pads.data;
  if (!page) return <Problem error={pads.error} />;
  const tie = (pad: number, desk: number) =>
    change.mutate(() =>
      read(
        api.PUT("/api/v1/sittings/{sitting_id}/room/pads/{pad}", {
          params: { path: { sitting_id: sittingId, pad } },
          body: { desk },
        }),
      ),
    );
  const newKey = () => change.mutate(() => read(api.POST("/api/v1/sittings/{sitting_id}/room/pads/key", { params })));
  return (
    <>
      <Problem error={change.error} />
      <p className="py-2">
        {page.connected.length > 0 ? t`Connected: ${page.connected.join(", ")}. ` : t`No receiver is connected. `}
        {page.key && page.connected.length > 0 && !page.answers_here && t`Pads answer in a lesson you started later. `}
        {t`Pad 1 belongs to desk 1, and so on, unless you say otherwise.`}
      </p>
      {page.pads.length > 0 && (
        <Table
          caption={t`Response pads`}
          heads={[
            { label: t`Pad`, right: true },
            { label: t`At the desk of` },
            { label: t`Battery`, right: true },
            { label: t`Last heard` },
          ]}
        >
          {page.pads.map((line) => (
            <Row key={line.pad}>
              <Cell right>{line.pad}</Cell>
              <Cell>
                <Choice
                  low
                  aria-label={t`Desk of pad ${line.pad}`}
                  value={line.name ? (line.desk ?? "") : ""}
                  onChange={(event) => tie(line.pad, Number(event.target.value))}
                >
                  {!line.name && <option value="">{t`nobody`}</option>}
                  {line.name && line.desk !== null && (
                    <option value={line.desk}>
                      {line.desk} {line.name}
                    </option>
                  )}
                  {page.free_desks
                    .filter(({ desk }) => desk !== line.desk)
                    .map(({ desk, name }) => (
                      <option key={desk} value={desk}>
                        {desk} {name}
                      </option>
                    ))}
                </Choice>
              </Cell>
              <Cell right>
                <span className={line.low && line.name ? "font-semibold text-ochre" : ""}>
                  {line.battery === null ? "" : `${line.battery}%`}
                </span>
              </Cell>
              <Cell>
                <span className={line.lost ? "text-ochre" : line.on ? "" : "text-graphite"}>{line.heard}</span>
              </Cell>
            </Row>
          ))}
        </Table>
      )}
      {page.key && (
        <Disclosure name={t`Connect a receiver`}>
          <p className="py-2 text-sm">
            {page.port === null ? (
              t`The port for receivers is used by another program on this computer; start with --pads and another number.`
            ) : (
              <Trans>
                The program at the receiver connects to{" "}
                <strong>
                  {page.host}:{page.port}
                </strong>{" "}
                and gives the key <strong className="font-mono">{page.key}</strong>. It serves for all your lessons.
              </Trans>
            )}
          </p>
          <Button onClick={newKey}>{t`Make another key`}</Button>
        </Disclosure>
      )}
    </>
  );
}
