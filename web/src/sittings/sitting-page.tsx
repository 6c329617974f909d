import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { useNudges } from "../api/nudges";
import { Console } from "../room/console";
import { Button, ButtonLink } from "../ui/button";
import { Dialog } from "../ui/dialog";
import { Problem } from "../ui/field";
import { ProgressBar } from "../ui/progress-bar";
import { Page, Spread } from "../ui/spread";
import { many, momentOf, whenOf } from "../ui/words";
import { MarksPage } from "./marks/marks-page";
import { PapersMenu } from "./papers-menu";
import { Seats } from "./seats";
import { StillWaiting } from "./still-waiting";
import { WayIn } from "./way-in";

type Sitting = Schemas["SittingPage"];
type Step = "open" | "pause" | "close";

/** One sitting, watched: the door on top, then every seat; on the right who is still missing. */
export function SittingPage() {
  const sittingId = Number(useParams().sittingId);
  const client = useQueryClient();
  const key = ["sitting", sittingId];
  const path = { path: { sitting_id: sittingId } };
  const sitting = useQuery({
    queryKey: key,
    queryFn: () => read(api.GET("/api/sittings/{sitting_id}", { params: path })),
  });
  const elsewhere = sitting.data?.marks_only || sitting.data?.in_the_room;
  useNudges(sitting.data && !elsewhere && sitting.data.state !== "closed" ? `/ws/sittings/${sittingId}` : null, () =>
    client.invalidateQueries({ queryKey: key }),
  );
  const step = useMutation({
    mutationFn: (to: Step) =>
      read(api.POST("/api/sittings/{sitting_id}/steps/{step}", { params: { path: { ...path.path, step: to } } })),
    onSuccess: (changed) => {
      client.setQueryData(key, changed);
      for (const other of ["sittings", "desk", "findings"]) client.invalidateQueries({ queryKey: [other] });
    },
  });
  if (!sitting.data)
    return (
      <Page title="Sitting">
        <div className="px-6">
          <Problem error={sitting.error} />
        </div>
      </Page>
    );
  const page = sitting.data;
  if (page.marks_only) return <MarksPage sittingId={sittingId} />;
  if (page.in_the_room) return <Console sittingId={sittingId} />;
  return (
    <Page
      title={page.title}
      facts={`${page.class_name} · ${many(page.questions, "question")} · ${stateWords(page)}`}
      actions={
        <>
          <ButtonLink to={`/sittings/${page.id}/paper`}>Answer sheets</ButtonLink>
          <Actions sitting={page} onStep={(to) => step.mutate(to)} busy={step.isPending} />
        </>
      }
    >
      <Spread
        names={{ verso: "Seats", recto: "Still waiting" }}
        verso={
          <>
            <Problem error={step.error} />
            <Door sitting={page} />
            <Seats list={page.list} questions={page.questions} />
          </>
        }
        recto={<StillWaiting sitting={page} />}
      />
    </Page>
  );
}

function stateWords(sitting: Sitting): string {
  if (sitting.state === "open") return sitting.closes_at ? `open until ${momentOf(sitting.closes_at)}` : "open";
  if (sitting.state === "paused") return "paused";
  if (sitting.closed_at) return `closed ${whenOf(sitting.closed_at)}`;
  return sitting.planned_for ? `${sitting.state} for ${whenOf(sitting.planned_for)}` : sitting.state;
}

function Actions({ sitting, onStep, busy }: { sitting: Sitting; onStep: (step: Step) => void; busy: boolean }) {
  const [closing, setClosing] = useState(false);
  const navigate = useNavigate();
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: () => read(api.DELETE("/api/sittings/{sitting_id}", { params: { path: { sitting_id: sitting.id } } })),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["sittings"] });
      client.invalidateQueries({ queryKey: ["desk"] });
      navigate("/sittings");
    },
  });
  if (sitting.state === "planned" || sitting.state === "ready") {
    return (
      <>
        <Button look="quiet" onClick={() => remove.mutate()}>
          Remove it
        </Button>
        <PapersMenu sitting={sitting} />
        <Button look="main" disabled={busy || sitting.missing.length > 0} onClick={() => onStep("open")}>
          Open it
        </Button>
      </>
    );
  }
  if (sitting.state === "open" || sitting.state === "paused") {
    return (
      <>
        <ButtonLink to={`/findings/${sitting.id}`}>Findings so far</ButtonLink>
        <Button disabled={busy} onClick={() => onStep(sitting.state === "open" ? "pause" : "open")}>
          {sitting.state === "open" ? "Pause all" : "Go on"}
        </Button>
        <Button look="main" disabled={busy} onClick={() => setClosing(true)}>
          Close it…
        </Button>
        <Dialog
          open={closing}
          onClose={() => setClosing(false)}
          title="Close this sitting?"
          says={closingWords(sitting)}
        >
          <div className="flex justify-end gap-3">
            <Button onClick={() => setClosing(false)}>Keep it open</Button>
            <Button
              look="main"
              onClick={() => {
                setClosing(false);
                onStep("close");
              }}
            >
              Close it
            </Button>
          </div>
        </Dialog>
      </>
    );
  }
  return (
    <>
      <Button disabled={busy} onClick={() => onStep("open")}>
        Open it again
      </Button>
      <ButtonLink to={`/findings/${sitting.id}`} look="main">
        Findings
      </ButtonLink>
    </>
  );
}

function closingWords({ working, expected }: Sitting): string {
  const parts = [];
  if (working) parts.push(`${many(working, "student")} still at work: what they have answered counts as handed in.`);
  if (expected) parts.push(`${many(expected, "student")} not here: marked absent.`);
  if (parts.length === 0) parts.push("Everyone has handed in.");
  return `${parts.join(" ")} You can open it again later.`;
}

function Door({ sitting }: { sitting: Sitting }) {
  if (sitting.state === "closed" || sitting.state === "released") return null;
  const here = sitting.working + sitting.handed_in;
  return (
    <div className="mb-6 border border-hairline px-6 py-5">
      <p className="text-graphite">
        {sitting.missing.length > 0 ? (
          <span className="text-clay">
            ◆ {sitting.missing.join(" ")} <ButtonLink to={`/classes/${sitting.class_id}`}>Add students</ButtonLink>
          </span>
        ) : sitting.state === "open" ? (
          "On the board"
        ) : sitting.state === "paused" ? (
          "Paused: answers are kept, and nobody can change them until you go on."
        ) : (
          "Students can come to the door already. They see the questions when you open it."
        )}
      </p>
      <div className="my-2">
        <WayIn sitting={sitting} />
      </div>
      {sitting.opened_at && (
        <div className="mt-4 flex items-center gap-4">
          <span className="font-serif text-3xl font-semibold">{sitting.handed_in}</span>
          <span className="shrink-0 text-sm leading-tight text-graphite">
            of {sitting.seats} handed in
            <br />
            {here} here
          </span>
          <ProgressBar done={sitting.handed_in} of={sitting.seats} label="handed in" />
        </div>
      )}
    </div>
  );
}
