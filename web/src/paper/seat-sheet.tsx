import { t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { changed } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Problem } from "../ui/field";
import { NoPage } from "../ui/no-page";
import { Empty, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { timeOf } from "../ui/words";
import { Settle } from "./settle";
import { Enlarged, SheetPicture, Spot } from "./sheet-picture";

type Place = Schemas["Place"];

/** One student's sheet as it was scanned. Any reading can be corrected; who said what is kept. */
export function SeatSheet() {
  const { sittingId, seatId } = useParams();
  const path = { path: { sitting_id: Number(sittingId), seat_id: Number(seatId) } };
  const client = useQueryClient();
  const key = ["sheet", Number(sittingId), Number(seatId)];
  const found = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/v1/sittings/{sitting_id}/sheets/{seat_id}", { params: path })),
  });
  const [chosen, setChosen] = useState<number | null>(null);
  const refresh = () => {
    setChosen(null);
    void changed(client, "scans");
  };
  const settle = useMutation({
    mutationFn: ({ place, answer }: { place: number; answer: string }) =>
      read(
        api.PUT("/api/v1/queries/places/{reading_id}", { params: { path: { reading_id: place } }, body: { answer } }),
      ),
    onSuccess: refresh,
  });
  const undo = useMutation({
    mutationFn: (id: number) =>
      read(api.DELETE("/api/v1/queries/settled/{settling_id}", { params: { path: { settling_id: id } } })),
    onSuccess: refresh,
  });
  const sheet = found.data;
  if (!sheet)
    return (
      <Page title={t`Sheet`}>
        <NoPage error={found.error} />
      </Page>
    );
  const back = <ButtonLink to={`/sittings/${sittingId}/paper`}>{t`All sheets`}</ButtonLink>;
  const title = `${sheet.desk} ${sheet.student}`;
  if (sheet.pages.length === 0)
    return (
      <Page title={title} facts={`${sheet.title} · ${sheet.class_name}`} actions={back}>
        <div className="px-6">
          <Empty title={t`No sheet has come back.`}>{t`It shows here as soon as a scan with it is read.`}</Empty>
        </div>
      </Page>
    );
  return (
    <Page title={title} facts={`${sheet.title} · ${sheet.class_name}`} actions={back}>
      <SplitPage
        split="even"
        names={{ left: t`The sheet`, right: t`What was read` }}
        left={sheet.pages.map((page) => (
          <div key={page.sheet.page} className="mb-6">
            <SheetPicture sheet={page.sheet} lit={page.places.find(({ id }) => id === chosen)}>
              {page.places.map((place) => (
                <Spot
                  key={place.id}
                  sheet={page.sheet}
                  box={place}
                  asks={place.waiting}
                  label={t`Question ${place.label}`}
                  onChoose={() => setChosen(place.id)}
                />
              ))}
            </SheetPicture>
          </div>
        ))}
        right={
          <>
            <Problem error={settle.error ?? undo.error} />
            {sheet.pages.map((page) => (
              <Region
                key={page.sheet.page}
                name={sheet.pages.length > 1 ? t`Page ${page.sheet.sheet_page}` : t`What was read`}
              >
                <Table
                  caption={t`Answers on this page`}
                  heads={[
                    { label: t`Question`, silent: true },
                    { label: t`Reading` },
                    { label: t`Who`, silent: true },
                    { label: t`Correct`, silent: true },
                  ]}
                >
                  {page.places.map((place) => (
                    <PlaceRow
                      key={place.id}
                      place={place}
                      open={place.id === chosen}
                      onOpen={() => setChosen(place.id === chosen ? null : place.id)}
                      onUndo={(id) => undo.mutate(id)}
                    />
                  ))}
                </Table>
                {page.places
                  .filter(({ id }) => id === chosen)
                  .map((place) => (
                    <div key={place.id} className="py-3">
                      <Enlarged sheet={page.sheet} box={place} label={t`Question ${place.label}, enlarged`} />
                      <Settle
                        place={place}
                        busy={settle.isPending}
                        onSettle={(answer) => settle.mutate({ place: place.id, answer })}
                      />
                    </div>
                  ))}
                {page.boxes.map((box) => (
                  <div key={box.item} className="py-3">
                    <p className="mb-1">
                      <Trans>
                        Question {box.label}
                        <span className="ms-2 text-plum">
                          {box.draft ? t`draft marks from paper: ${box.draft}` : t`waits to be marked`}
                        </span>
                      </Trans>
                    </p>
                    <Enlarged sheet={page.sheet} box={box} label={t`What was written for question ${box.label}`} />
                  </div>
                ))}
              </Region>
            ))}
          </>
        }
      />
    </Page>
  );
}

type RowProps = { place: Place; open: boolean; onOpen: () => void; onUndo: (id: number) => void };

function PlaceRow({ place, open, onOpen, onUndo }: RowProps) {
  const said = place.said[place.said.length - 1];
  return (
    <Row>
      <Cell right>
        <strong>{place.label}</strong>
      </Cell>
      <Cell>
        {place.waiting ? (
          <span className="text-ochre">◐ {place.note || place.state}</span>
        ) : (
          place.answer.replaceAll("+", ", ") || <span className="text-graphite">–</span>
        )}
      </Cell>
      <Cell>
        {said && (
          <span className="text-graphite">
            {t`${said.by}, ${timeOf(said.at)}; read as ${place.read.replaceAll("+", ", ") || t`nothing`}`}
          </span>
        )}
      </Cell>
      <Cell right>
        {said && <Button variant="quiet" onClick={() => onUndo(said.id)}>{t`take back`}</Button>}
        <Button variant="quiet" aria-expanded={open} aria-label={t`Correct question ${place.label}`} onClick={onOpen}>
          {place.waiting ? t`settle` : t`correct`}
        </Button>
      </Cell>
    </Row>
  );
}
