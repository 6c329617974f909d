import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, read, type Schemas } from "../api/client";
import { Button, ButtonLink } from "../ui/button";
import { Field, Problem, TextArea } from "../ui/field";
import { Empty, Page, Region, Spread } from "../ui/spread";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { many } from "../ui/words";
import { PassSlips } from "./pass-slips";
import { StudentName } from "./student-name";

export function ClassPage() {
  const classId = Number(useParams().classId);
  const [chosen, setChosen] = useState<number | null>(null);
  const found = useQuery({
    queryKey: ["class", classId],
    queryFn: () => read(api.GET("/api/classes/{class_id}", { params: { path: { class_id: classId } } })),
  });
  if (!found.data)
    return (
      <Page title="Class">
        <div className="px-6">
          <Problem error={found.error} />
        </div>
      </Page>
    );
  const student = found.data.list.find((line) => line.id === chosen);
  return (
    <>
      <PassSlips page={found.data} />
      <div className="flex min-w-0 flex-1 print:hidden">
        <Page
          title={found.data.name}
          facts={many(found.data.students, "student")}
          actions={
            <>
              <Button onClick={() => print()} disabled={found.data.students === 0}>
                Print the passes
              </Button>
              <ButtonLink to={`/sittings?new=1&class=${classId}`}>New sitting</ButtonLink>
            </>
          }
        >
          <Spread
            names={{ verso: "Class list", recto: "Students to add or change" }}
            verso={<StudentList page={found.data} chosen={chosen} onChoose={setChosen} />}
            recto={
              <>
                {student && (
                  <StudentName key={student.id} classId={classId} student={student} onDone={() => setChosen(null)} />
                )}
                <AddStudents classId={classId} first={found.data.students === 0} />
              </>
            }
          />
        </Page>
      </div>
    </>
  );
}

type ListProps = { page: Schemas["ClassPage"]; chosen: number | null; onChoose: (id: number) => void };

function StudentList({ page, chosen, onChoose }: ListProps) {
  if (page.students === 0) {
    return (
      <Empty title="No students yet.">
        Type or paste their names on the right, one a line. Desk numbers and passes are given at once.
      </Empty>
    );
  }
  return (
    <Table
      caption={`Students of ${page.name}`}
      heads={[
        { label: "Desk", right: true },
        { label: "Student" },
        { label: "Pass" },
        { label: "Change", silent: true },
      ]}
    >
      {page.list.map((student) => (
        <Row key={student.id} lit={student.id === chosen}>
          <Cell right>
            <span className="text-graphite">{student.desk}</span>
          </Cell>
          <Cell>
            <span className="font-serif text-base">
              {student.given_name} {student.family_name}
            </span>
          </Cell>
          <Cell>{student.pass_phrase}</Cell>
          <Cell right>
            <span data-screen-only>
              <Button look="quiet" onClick={() => onChoose(student.id)} aria-label={`Change ${student.short_name}`}>
                change
              </Button>
            </span>
          </Cell>
        </Row>
      ))}
    </Table>
  );
}

function AddStudents({ classId, first }: { classId: number; first: boolean }) {
  const [text, setText] = useState("");
  const client = useQueryClient();
  const say = useSay();
  const lines = text.split("\n").filter((line) => line.trim());
  const add = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/classes/{class_id}/students", {
          params: { path: { class_id: classId } },
          body: { lines },
        }),
      ),
    onSuccess: (page) => {
      client.setQueryData(["class", classId], page);
      // Sittings that are not open yet follow the class list.
      client.invalidateQueries();
      say(`${many(lines.length, "student")} added to ${page.name}.`);
      setText("");
    },
  });
  return (
    <Region name={first ? "The class list" : "Add students"}>
      <form
        className="pt-3"
        data-screen-only
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        <Field label="Names, one a line" hint="Given name first, or “Family, Given”.">
          {(id) => (
            <TextArea
              id={id}
              rows={first ? 10 : 3}
              value={text}
              placeholder={"Wren Okafor\nDiallo, Malik"}
              onChange={(event) => setText(event.target.value)}
            />
          )}
        </Field>
        <Problem error={add.error} />
        <Button type="submit" look="main" disabled={lines.length === 0 || add.isPending}>
          {lines.length ? `Add ${many(lines.length, "student")}` : "Add"}
        </Button>
      </form>
    </Region>
  );
}
