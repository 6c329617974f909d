import { plural, t } from "@lingui/core/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { DeleteWhole } from "../ui/delete-whole";
import { Choice, Field, Problem, TextInput } from "../ui/field";
import { Page, Region } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { listed } from "../ui/words";

type Found = Schemas["StudentKept"];
type Results = Schemas["EraseBody"]["results"];
const YEARS = [0, 1, 2, 3, 5, 7, 10];
const FEWEST_LETTERS = 2;
/** As many as the server sends. */
const AT_ONCE = 20;

/** What is kept of students: for how long, everything of one of them, and taking it away. */
export function PrivacyPage() {
  const client = useQueryClient();
  const key = ["privacy"];
  const kept = useQuery({ queryKey: key, queryFn: () => read(api.GET("/api/v1/privacy")) });
  const keep = useMutation({
    mutationFn: (years: number) => read(api.PUT("/api/v1/privacy", { body: { years } })),
    onSuccess: (next) => answered(client, key, next),
  });
  return (
    <Page
      title={t`What is kept of students`}
      facts={
        kept.data &&
        `${plural(kept.data.students, { one: "# name", other: "# names" })} · ${plural(kept.data.erased, { one: "# erased", other: "# erased" })}`
      }
      actions={<ButtonLink to="/people">{t`People of the school`}</ButtonLink>}
    >
      <div className="min-h-0 flex-1 px-6 py-4 lg:overflow-y-auto">
        <div className="max-w-4xl">
          <Problem error={kept.error ?? keep.error} />
          {kept.data && (
            <Region name={t`For how long`}>
              <div className="py-2">
                <Field
                  label={t`Names are kept after a student’s last test for`}
                  hint={
                    kept.data.years === 0
                      ? t`Nothing goes by itself: names stay until somebody erases them here.`
                      : t`Who is in no class of today and sat their last test longer ago is erased at night, after the back-up; the security log says whom. Tonight: ${kept.data.due}.`
                  }
                >
                  {(id) => (
                    <Choice
                      id={id}
                      className="w-auto!"
                      value={String(kept.data.years)}
                      onChange={(event) => keep.mutate(Number(event.target.value))}
                    >
                      {YEARS.map((years) => (
                        <option key={years} value={years}>
                          {years === 0
                            ? t`as long as nobody says otherwise`
                            : plural(years, { one: "# year", other: "# years" })}
                        </option>
                      ))}
                    </Choice>
                  )}
                </Field>
              </div>
            </Region>
          )}
          <OneStudent />
        </div>
      </div>
    </Page>
  );
}

function OneStudent() {
  const [named, setNamed] = useState("");
  const [erasing, setErasing] = useState<Found>();
  const typed = named.trim();
  const found = useQuery({
    queryKey: ["privacy", "students", typed],
    queryFn: () => read(api.GET("/api/v1/privacy/students", { params: { query: { named: typed } } })),
    enabled: typed.length >= FEWEST_LETTERS,
  });
  return (
    <Region name={t`One student`}>
      <div className="py-2">
        <Field label={t`Name or number`} hint={t`Of any class of the school, those put away included.`}>
          {(id) => <TextInput id={id} type="search" value={named} onChange={(event) => setNamed(event.target.value)} />}
        </Field>
      </div>
      <Problem error={found.error} />
      {found.data?.length === 0 && <p className="text-graphite">{t`Nobody of that name or number.`}</p>}
      {found.data && found.data.length > 0 && (
        <div className="relative overflow-x-auto">
          <Table
            caption={t`Students found`}
            heads={[
              { label: t`Name` },
              { label: t`Number` },
              { label: t`Classes` },
              { label: t`What to do`, silent: true },
            ]}
          >
            {found.data.map((student) => (
              <Row key={student.id}>
                <Cell>
                  <span className="font-serif text-base wrap-anywhere">{student.name}</span>
                </Cell>
                <Cell>{student.number}</Cell>
                <Cell>{listed(student.classes)}</Cell>
                <Cell right>
                  <span className="flex flex-wrap justify-end gap-2">
                    <Button
                      aria-label={t`Everything of ${student.name} as a file`}
                      onClick={() => location.assign(`/api/v1/privacy/students/${student.id}/everything.zip`)}
                    >{t`Everything as a file`}</Button>
                    <Button
                      aria-label={t`Erase ${student.name}`}
                      onClick={() => setErasing(student)}
                    >{t`Erase…`}</Button>
                  </span>
                </Cell>
              </Row>
            ))}
          </Table>
        </div>
      )}
      {found.data?.length === AT_ONCE && (
        <p className="py-2 text-sm text-graphite">{t`These are the first ${AT_ONCE}. Type more of the name to see others.`}</p>
      )}
      {erasing && <Erase student={erasing} onClose={() => setErasing(undefined)} />}
    </Region>
  );
}

function Erase({ student, onClose }: { student: Found; onClose: () => void }) {
  const client = useQueryClient();
  const say = useSay();
  const [results, setResults] = useState<Results>("keep");
  return (
    <DeleteWhole
      title={t`Erase ${student.name}`}
      says={t`Name, number, addresses, needs, notes, files, pictures of sheets and what they wrote in sentences go for good. Back-ups made before still hold them until they are taken away.`}
      name={student.name}
      act={t`Erase`}
      remove={(typed) =>
        read(
          api.POST("/api/v1/privacy/students/{student_id}/erase", {
            params: { path: { student_id: student.id } },
            body: { results, typed },
          }),
        )
      }
      onDone={() => {
        client.invalidateQueries();
        say(t`Nothing here tells any more who that was.`);
        onClose();
      }}
      onClose={onClose}
    >
      <Field
        label={t`Answers and marks`}
        hint={
          results === "keep"
            ? t`The figures of the class stay as they are.`
            : t`Totals, findings and records of the class are made anew without them.`
        }
      >
        {(id) => (
          <Choice id={id} value={results} onChange={(event) => setResults(event.target.value as Results)}>
            <option value="keep">{t`stay, without a name`}</option>
            <option value="delete">{t`go too`}</option>
          </Choice>
        )}
      </Field>
    </DeleteWhole>
  );
}
