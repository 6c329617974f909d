import { plural, t } from "@lingui/core/macro";
import { Trans } from "@lingui/react/macro";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { useAddress } from "../api/address";
import { answered } from "../api/changes";
import { api, read, type Schemas } from "../api/client";
import { useGlance } from "../ui/at-a-glance";
import { Button, ButtonLink } from "../ui/button";
import { DeleteWhole } from "../ui/delete-whole";
import { Dialog } from "../ui/dialog";
import { Field, Problem, TextArea, TextInput } from "../ui/field";
import { Menu } from "../ui/menu";
import { NoPage } from "../ui/no-page";
import { Empty, Page, Region, SplitPage } from "../ui/split-page";
import { Cell, Row, Table } from "../ui/table";
import { useSay } from "../ui/undo";
import { begun } from "../ui/words";
import { BringList } from "./bring-list";
import { Colleagues } from "./colleagues";
import { Groups } from "./groups";
import { needsInWords } from "./needs";
import { PassSlips } from "./pass-slips";
import { StudentPage } from "./student-page";

export function ClassPage() {
  const classId = Number(useParams().classId);
  const [chosen, setChosen] = useState<number | null>(null);
  const [bringing, setBringing] = useState(false);
  const found = useQuery({
    queryKey: ["class", classId],
    queryFn: () => read(api.GET("/api/v1/classes/{class_id}", { params: { path: { class_id: classId } } })),
  });
  if (!found.data)
    return (
      <Page title={t`Class`}>
        <NoPage error={found.error} />
      </Page>
    );
  const page = found.data;
  const student = page.list.find((line) => line.id === chosen);
  const own = !page.owner;
  return (
    <>
      <PassSlips page={page} />
      <div className="flex min-w-0 flex-1 print:hidden">
        <Page
          title={page.name}
          facts={
            <>
              {plural(page.students, { one: "# student", other: "# students" })}
              {page.archived && <span className="text-ochre"> {t`· ◐ put away`}</span>}
              {!own && t` · ${page.owner}’s class`}
            </>
          }
          actions={
            <>
              <Button onClick={() => print()} disabled={page.students === 0}>{t`Print the passes`}</Button>
              {own && <Button onClick={() => setBringing(true)}>{t`Bring in a list`}</Button>}
              <ButtonLink to={`/sittings?new=1&class=${classId}`}>{t`New sitting`}</ButtonLink>
              <MoreMenu page={page} own={own} />
            </>
          }
        >
          <SplitPage
            split={bringing ? "narrow" : "wide"}
            names={{ left: t`Class list`, right: t`Students to add or change` }}
            left={
              <>
                <StudentList page={page} chosen={chosen} onChoose={own ? setChosen : null} />
                <LeftList page={page} />
              </>
            }
            right={
              own ? (
                <>
                  <Requests page={page} />
                  {bringing && <BringList page={page} onDone={() => setBringing(false)} />}
                  {student && !bringing && (
                    <StudentPage key={student.id} page={page} student={student} onDone={() => setChosen(null)} />
                  )}
                  {!bringing && (
                    <AddStudents classId={classId} first={page.students === 0} onBring={() => setBringing(true)} />
                  )}
                  {page.students > 0 && !bringing && <Groups page={page} />}
                  {!bringing && <Colleagues page={page} />}
                  {page.students > 0 && !bringing && <OwnPages page={page} />}
                </>
              ) : (
                <p className="text-graphite">{t`${page.owner} looks after this list.`}</p>
              )
            }
          />
        </Page>
      </div>
    </>
  );
}

/** Colleagues who ask for a student whom this teacher looks after. */
function Requests({ page }: { page: Schemas["ClassPage"] }) {
  const client = useQueryClient();
  const answer = useMutation({
    mutationFn: ({ id, granted }: { id: number; granted: boolean }) =>
      read(
        api.POST("/api/v1/classes/{class_id}/student-requests/{request_id}", {
          params: { path: { class_id: page.id, request_id: id } },
          body: { granted },
        }),
      ),
    onSuccess: (fresh) => answered(client, ["class", page.id], fresh),
  });
  if (page.requests.length === 0) return null;
  return (
    <Region name={t`Asked of you`}>
      {page.requests.map((request) => (
        <p key={request.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-hairline py-2">
          <span className="min-w-0 flex-1 wrap-anywhere">
            <Trans>
              {request.by} asks for <strong>{request.student}</strong>, for {request.into}. Their pass goes along; name
              and addresses stay yours to change.
            </Trans>
          </span>
          <Button
            disabled={answer.isPending}
            onClick={() => answer.mutate({ id: request.id, granted: true })}
          >{t`Give`}</Button>
          <Button
            variant="quiet"
            disabled={answer.isPending}
            onClick={() => answer.mutate({ id: request.id, granted: false })}
          >{t`not now`}</Button>
        </p>
      ))}
      <Problem error={answer.error} />
    </Region>
  );
}

/** The one link through which each student of the class comes to a page of their own. */
function OwnPages({ page }: { page: Schemas["ClassPage"] }) {
  const say = useSay();
  const { address } = useAddress();
  const link = `${address}/mine/${page.link}`;
  return (
    <Region name={t`Students’ own pages`}>
      <p className="py-2 text-graphite">{t`One link for the class; each signs in with their pass, and sees what is open for them and what they were told.`}</p>
      <p className="flex flex-wrap items-center gap-3">
        <a className="min-w-0 font-serif wrap-anywhere text-iris underline" href={link}>
          {link}
        </a>
        <Button
          onClick={() => navigator.clipboard?.writeText(link).then(() => say(t`The link is copied.`))}
        >{t`Copy it`}</Button>
      </p>
    </Region>
  );
}

/** What one does with a class now and then. */
function MoreMenu({ page, own }: { page: Schemas["ClassPage"]; own: boolean }) {
  const last = useGlance("classes").get(page.id)?.last;
  const client = useQueryClient();
  const navigate = useNavigate();
  const say = useSay();
  const params = { path: { class_id: page.id } };
  const passes = useMutation({
    mutationFn: () => read(api.POST("/api/v1/classes/{class_id}/new-passes", { params })),
    onSuccess: () => {
      client.invalidateQueries();
      say(t`All of ${page.name} have new passes. Print them again: the old ones open nothing now.`);
    },
  });
  const archive = useMutation({
    mutationFn: (archived: boolean) =>
      read(api.POST("/api/v1/classes/{class_id}/archive", { params: { ...params, query: { archived } } })),
    onSuccess: (next) => {
      client.invalidateQueries();
      if (!next.archived) return;
      navigate("/classes");
      say(t`${page.name} is put away with its results.`, () => archive.mutateAsync(false));
    },
  });
  // What cannot be taken back is asked before: slips that are handed out open nothing afterwards.
  const [asking, setAsking] = useState(false);
  const [deleting, setDeleting] = useState(false);
  const get = (form: string) => ({ onChoose: () => location.assign(`/api/v1/classes/${page.id}/list/${form}`) });
  return (
    <>
      <Dialog
        open={asking}
        onClose={() => setAsking(false)}
        title={t`New passes for all of ${page.name}?`}
        says={t`Slips that are handed out open nothing any more, and students' own pages ask for the new pass. The old passes do not come back.`}
      >
        <Button
          variant="main"
          onClick={() => {
            setAsking(false);
            passes.mutate();
          }}
        >{t`Give new passes`}</Button>
      </Dialog>
      {deleting && (
        <DeleteWhole
          title={t`Delete ${page.name} whole`}
          says={t`With all of its sittings, answers, marks and scans, and with the students who are in no other class. Tests and questions stay. Nothing brings it back but a back-up.`}
          name={page.name}
          remove={(typed) => read(api.POST("/api/v1/classes/{class_id}/delete-whole", { params, body: { typed } }))}
          onDone={() => {
            client.invalidateQueries();
            navigate("/classes");
            say(t`${page.name} is deleted.`);
          }}
          onClose={() => setDeleting(false)}
        />
      )}
      <Menu
        trigger={<Button aria-label={t`More to do with this class`}>…</Button>}
        choices={[
          ...(last
            ? [
                {
                  name: t`Feedback sheets`,
                  says: t`of ${begun(last.title, 40)}`,
                  onChoose: () => navigate(`/results/${last.id}/skills`),
                },
              ]
            : []),
          { name: t`The list as CSV`, ...get("csv") },
          { name: t`The list as a workbook`, says: "XLSX", ...get("xlsx") },
          { name: t`The list as OneRoster`, says: "zip", ...get("oneroster") },
          ...(own
            ? [
                { name: t`New passes for all…`, onChoose: () => setAsking(true), disabled: page.students === 0 },
                {
                  name: page.archived ? t`Take the class out again` : t`Put the class away`,
                  onChoose: () => archive.mutate(!page.archived),
                },
                ...(page.archived ? [{ name: t`Delete the class whole…`, onChoose: () => setDeleting(true) }] : []),
              ]
            : []),
        ]}
      />
    </>
  );
}

type ListProps = { page: Schemas["ClassPage"]; chosen: number | null; onChoose: ((id: number) => void) | null };

function StudentList({ page, chosen, onChoose }: ListProps) {
  if (page.students === 0) {
    return (
      <Empty
        title={t`No students yet.`}
      >{t`Bring in the list your school gave you, or type the names on the right, one a line. Desk numbers and passes are given at once.`}</Empty>
    );
  }
  return (
    <Table
      caption={t`Students of ${page.name}`}
      heads={[
        { label: t`Desk`, right: true },
        { label: t`Student` },
        { label: t`Pass` },
        { label: t`Needs, tags` },
        { label: t`Change`, silent: true },
      ]}
    >
      {page.list.map((student) => (
        <Row key={student.id} selected={student.id === chosen}>
          <Cell right>
            <span className="text-graphite">{student.desk}</span>
          </Cell>
          <Cell>
            <span className="font-serif text-base wrap-anywhere">{student.full_name}</span>
          </Cell>
          <Cell>
            <span className="whitespace-nowrap">{student.pass_phrase}</span>
          </Cell>
          <Cell>
            <span className="text-graphite">{[...needsInWords(student), ...student.tags].join(", ")}</span>
          </Cell>
          <Cell right>
            {onChoose && (
              <span data-screen-only>
                <Button
                  variant="quiet"
                  onClick={() => onChoose(student.id)}
                  aria-label={t`Change ${student.short_name}`}
                >{t`change`}</Button>
              </span>
            )}
          </Cell>
        </Row>
      ))}
    </Table>
  );
}

/** Who was here; their desk number stays theirs. */
function LeftList({ page }: { page: Schemas["ClassPage"] }) {
  const client = useQueryClient();
  const back = useMutation({
    mutationFn: (student: number) =>
      read(
        api.POST("/api/v1/classes/{class_id}/students/{student_id}/come-back", {
          params: { path: { class_id: page.id, student_id: student } },
        }),
      ),
    onSuccess: () => client.invalidateQueries(),
  });
  if (page.left.length === 0) return null;
  return (
    <div className="mt-5">
      <Region name={t`Have left`}>
        <ul className="text-sm">
          {page.left.map((line) => (
            <li key={line.id} className="flex items-baseline gap-3 border-b border-hairline py-1">
              <span className="w-10 text-end text-graphite">{line.desk}</span>
              <span className="min-w-0 flex-1 font-serif">{line.name}</span>
              {!page.owner && (
                <Button
                  variant="quiet"
                  onClick={() => back.mutate(line.id)}
                  aria-label={t`${line.name} comes back`}
                >{t`comes back`}</Button>
              )}
            </li>
          ))}
        </ul>
      </Region>
    </div>
  );
}

function AddStudents({ classId, first, onBring }: { classId: number; first: boolean; onBring: () => void }) {
  const [text, setText] = useState("");
  const client = useQueryClient();
  const say = useSay();
  const lines = text.split("\n").filter((line) => line.trim());
  const add = useMutation({
    mutationFn: () =>
      read(
        api.POST("/api/v1/classes/{class_id}/students", {
          params: { path: { class_id: classId } },
          body: { lines },
        }),
      ),
    onSuccess: (page) => {
      answered(client, ["class", classId], page);
      // Sittings that are not open yet follow the class list.
      client.invalidateQueries();
      say(t`${plural(lines.length, { one: "# student", other: "# students" })} added to ${page.name}.`);
      setText("");
    },
  });
  return (
    <Region
      name={first ? t`The class list` : t`Add a student`}
      remark={first && <Button variant="quiet" onClick={onBring}>{t`bring in a file instead`}</Button>}
    >
      <form
        className="pt-3"
        data-screen-only
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate();
        }}
      >
        {first ? (
          <Field label={t`Names, one a line`} hint={t`Given name first, or “Family, Given”.`}>
            {(id) => (
              <TextArea
                id={id}
                rows={10}
                value={text}
                placeholder={t`Wren Okafor
Diallo, Malik`}
                onChange={(event) => setText(event.target.value)}
              />
            )}
          </Field>
        ) : null}
        <div className="flex gap-3">
          {!first && (
            <TextInput
              aria-label={t`Name of a late student`}
              value={text}
              placeholder={t`Wren Okafor, or Diallo, Malik`}
              onChange={(event) => setText(event.target.value)}
            />
          )}
          <Button type="submit" variant="main" disabled={lines.length === 0 || add.isPending}>
            {first && lines.length ? t`Add ${plural(lines.length, { one: "# student", other: "# students" })}` : t`Add`}
          </Button>
        </div>
        <Problem error={add.error} />
      </form>
    </Region>
  );
}
