"""Class lists in the school: brought in, looked after, shared."""

import io
import json
import zipfile
from base64 import b64encode
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone

from tests.conftest import PASSWORD, Staffroom, devices, problems_of, refs
from tests.school.test_teacher_side import send
from versomark.core.formats.class_lists import StudentRow
from versomark.school.classes.importing import carry_out
from versomark.school.classes.models import Student
from versomark.school.classes.services import add_students, change_student, make_class, share_class
from versomark.school.delivery.models import Seat
from versomark.school.errors import DomainError

pytestmark = pytest.mark.django_db

LIST = "Desk;Name;Student number;Groups;Tags;Extra time\n3;Wren Okafor;K1;red;choir;25\n1;Malik Diallo;K2;;;\n"


def read(client: Client, text: str = LIST) -> dict[str, Any]:
    (sheet,) = send(client, "post", "lists/read", {"name": "l.csv", "data": b64encode(text.encode()).decode()}).json()[
        "sheets"
    ]
    return {key: sheet[key] for key in ("rows", "first_line", "header", "columns")}


def new_class(client: Client, name: str = "8 Heron") -> str:
    return f"classes/{send(client, 'post', 'classes', {'name': name}).json()['id']}"


def outcomes(reply: Any) -> list[tuple[str, str]]:
    return [(line["name"], line["outcome"]) for line in reply.json()["lines"]]


def test_a_list_is_previewed_brought_in_whole_and_the_same_again_changes_nothing(school: Staffroom) -> None:
    client, path = school.client, new_class(school.client)
    sheet = read(client)
    preview = send(client, "post", f"{path}/list/preview", sheet)
    assert outcomes(preview) == [("Wren Okafor", "new"), ("Malik Diallo", "new")]
    assert client.get(f"/api/v1/{path}").json()["list"] == []
    send(client, "post", f"{path}/list", sheet)
    page = client.get(f"/api/v1/{path}").json()
    assert [(s["desk"], s["given_name"], s["number"], s["tags"], s["extra_time"]) for s in page["list"]] == [
        (1, "Malik", "K2", [], 0), (3, "Wren", "K1", ["choir"], 25),
    ]  # fmt: skip
    assert [(group["name"], len(group["students"])) for group in page["groups"]] == [("red", 1)]
    again = send(client, "post", f"{path}/list", sheet)
    assert outcomes(again) == [("Wren Okafor", "same"), ("Malik Diallo", "same")]
    assert client.get(f"/api/v1/{path}").json() == page
    # What goes out comes in again as it was.
    for form in ("csv", "xlsx"):
        sent = client.get(f"/api/v1/{path}/list/{form}")
        sheets = send(client, "post", "lists/read", {"data": b64encode(sent.content).decode()}).json()["sheets"]
        body = {key: sheets[0][key] for key in ("rows", "first_line", "header", "columns")}
        assert {outcome for _, outcome in outcomes(send(client, "post", f"{path}/list/preview", body))} == {"same"}


def test_wrong_lines_hold_everything_back_unless_left_out(school: Staffroom) -> None:
    client, path = school.client, new_class(school.client)
    sheet = read(client, LIST + "x;Tobias Rask;K3;;;\n3;Ines Almeida;K4;;;\n")
    refused = send(client, "post", f"{path}/list", sheet)
    assert problems_of(refused) == [
        "Line 4, column A: “x” is not a desk number from 1 to 999.",
        "Line 5: Desk 3 is another line’s.",
    ]
    assert client.get(f"/api/v1/{path}").json()["students"] == 0
    done = send(client, "post", f"{path}/list", sheet | {"without_wrong": True})
    assert outcomes(done) == [("Wren Okafor", "new"), ("Malik Diallo", "new")]


def test_a_changed_list_changes_who_it_names_and_leaves_the_rest(school: Staffroom) -> None:
    client, path = school.client, new_class(school.client)
    send(client, "post", f"{path}/list", read(client))
    other = new_class(client, "Choir")
    body = read(client, "Student number;First name;Surname;Desk\nK1;Wren;Ojo;3\nK9;New;Comer;\n")
    preview = send(client, "post", f"{path}/list/preview", body).json()
    assert [(line["outcome"], line["changes"]) for line in preview["lines"]] == [
        ("changed", ["family name: Okafor → Ojo"]), ("new", []),
    ]  # fmt: skip
    assert preview["not_listed"] == ["Malik Diallo"]
    send(client, "post", f"{path}/list", body)
    assert [s["family_name"] for s in client.get(f"/api/v1/{path}").json()["list"]] == ["Diallo", "Ojo", "Comer"]
    # By name and without a number, another class gets the same student and not a double.
    joined = send(client, "post", f"{other}/list", read(client, "Name\nWren Ojo\n"))
    assert [(line["outcome"], line["also_in"]) for line in joined.json()["lines"]] == [("joins", ["8 Heron"])]
    assert Student.objects.count() == 3
    student = client.get(f"/api/v1/{other}").json()["list"][0]
    assert student["other_classes"] == ["8 Heron"]


def test_files_that_are_no_list_are_refused_in_words(school: Staffroom) -> None:
    for body, words in [
        ({"data": "not base64!"}, "did not arrive whole"),
        ({"data": b64encode(b"PK\x03\x04").decode()}, "not a whole zip"),
        ({"data": b64encode(b"x\n" * 2001).decode()}, "one class at a time"),
    ]:
        reply = send(school.client, "post", "lists/read", body)
        assert (reply.status_code, words in reply.json()["detail"]) == (422, True), reply.json()


def test_someone_leaves_comes_back_moves_and_keeps_the_desk(school: Staffroom) -> None:
    client, path = school.client, new_class(school.client)
    other = new_class(client, "8 Tern")
    page = send(client, "post", f"{path}/students", {"lines": ["Ada A", "Ben B", "Cleo C"]}).json()
    ben = page["list"][1]["id"]
    send(client, "delete", f"{path}/students/{ben}")
    page = client.get(f"/api/v1/{path}").json()
    assert ([s["desk"] for s in page["list"]], page["left"]) == ([1, 3], [{"id": ben, "desk": 2, "name": "Ben B"}])
    page = send(client, "post", f"{path}/students/{ben}/come-back").json()
    assert [s["desk"] for s in page["list"]] == [1, 2, 3]
    send(client, "post", f"{path}/students/{ben}/move?to={other.split('/')[1]}")
    assert [s["given_name"] for s in client.get(f"/api/v1/{other}").json()["list"]] == ["Ben"]
    old = {s["pass_phrase"] for s in client.get(f"/api/v1/{path}").json()["list"]}
    assert not old & {s["pass_phrase"] for s in send(client, "post", f"{path}/new-passes").json()["list"]}
    assert send(client, "post", f"{path}/archive?archived=true").json()["archived"] is True
    assert [line["name"] for line in client.get("/api/v1/classes").json()] == ["8 Tern"]
    assert [line["name"] for line in client.get("/api/v1/classes?archived=true").json()] == ["8 Heron"]


def test_one_person_twice_becomes_one_with_the_results_of_both(school: Staffroom) -> None:
    sitting = school.open_sitting(students=3)
    one, other, third = Student.objects.order_by("pk")
    device = devices(sitting)[1]
    device.join()
    device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 1)
    path = f"classes/{sitting.school_class_id}/students/{one.pk}/merge"
    Student.objects.filter(pk=other.pk).update(extra_time=25, number="K7")
    page = send(school.client, "post", f"{path}?other={other.pk}").json()
    assert [(s["desk"], s["extra_time"], s["number"]) for s in page["list"]] == [(1, 25, "K7"), (3, 0, "")]
    assert set(Seat.objects.values_list("student_id", "state")) == {(one.pk, "working"), (third.pk, "expected")}
    devices(sitting)[1].join()
    refused = send(school.client, "post", f"{path}?other={third.pk}")
    assert "Both have work in" in problems_of(refused)[0]
    assert Student.objects.filter(pk=third.pk).exists()


def test_a_colleague_sees_and_does_what_was_allowed(staffroom: Callable[[str], Staffroom]) -> None:
    school = staffroom("brandt")
    sitting = school.sitting()
    path = f"classes/{sitting.school_class_id}"
    invitation = send(school.client, "post", "people", {"name": "P. Varga", "username": "varga"}).json()
    made, other = invitation["person"], Client()
    body = {"username": "varga", "code": invitation["code"], "password": "a-new-word-7"}
    assert send(other, "post", "with-code", body).status_code == 200
    assert other.get(f"/api/v1/{path}").status_code == 404
    send(school.client, "put", f"{path}/co-teachers", {"teacher": made["id"]})
    assert other.get("/api/v1/classes").json()[0]["owner"] == "Brandt"
    assert other.get(f"/api/v1/sittings/{sitting.pk}").status_code == 200
    refused = send(other, "post", f"sittings/{sitting.pk}/steps/open")
    assert (refused.status_code, "leave to run" in refused.json()["detail"]) == (403, True)
    assert send(other, "post", f"{path}/students", {"lines": ["New One"]}).status_code == 403
    send(school.client, "put", f"{path}/co-teachers", {"teacher": made["id"], "may_run": True})
    assert send(other, "post", f"sittings/{sitting.pk}/steps/open").json()["state"] == "open"
    send(school.client, "delete", f"{path}/co-teachers/{made['id']}")
    assert other.get(f"/api/v1/sittings/{sitting.pk}").status_code == 404
    assert send(other, "put", "me/password", {"now": "wrong", "new": PASSWORD}).status_code == 422
    assert send(other, "put", "me/password", {"now": "a-new-word-7", "new": PASSWORD}).status_code == 200
    assert other.get("/api/v1/me").json()["name"] == "P. Varga"
    stranger = staffroom("stranger")
    assert send(school.client, "put", f"{path}/co-teachers", {"teacher": stranger.teacher.pk}).status_code == 404


def test_what_a_student_needs_reaches_their_own_screen(school: Staffroom) -> None:
    sitting = school.open_sitting()
    student = Student.objects.order_by("pk")[0]
    needs = {"large_print": True, "ground": "cream", "quiet_start": True, "language": "es"}
    needs |= {"alone_on_page": True, "large_targets": True}
    change = {"given_name": "A", "read_aloud": "on", **needs}
    send(school.client, "put", f"classes/{sitting.school_class_id}/students/{student.pk}", change)
    page = devices(sitting)[0].join().json()
    assert page["needs"] == {"read_aloud": True, **needs}
    assert not json.dumps(devices(sitting)[1].join().json()["needs"]).count("true")


def test_groups_hold_students_of_the_class(school: Staffroom) -> None:
    client, path = school.client, new_class(school.client)
    page = send(client, "post", f"{path}/students", {"lines": ["Ada A", "Ben B"]}).json()
    ids = [s["id"] for s in page["list"]]
    group = send(client, "post", f"{path}/groups", {"name": "Red", "students": ids}).json()["groups"][0]
    assert send(client, "post", f"{path}/groups", {"name": "Red"}).status_code == 409
    assert send(client, "post", f"{path}/groups", {"name": "Blue", "students": [10**6]}).status_code == 404
    changed = send(client, "put", f"{path}/groups/{group['id']}", {"name": "Blue", "students": ids[:1]}).json()
    assert [(g["name"], g["students"]) for g in changed["groups"]] == [("Blue", ids[:1])]
    assert send(client, "delete", f"{path}/groups/{group['id']}").json()["groups"] == []


def test_students_of_several_classes_are_found_and_sit_together(school: Staffroom, staffroom: Any) -> None:
    """By name, class, teacher or tag; those of a class that one may only look at are not among them."""
    for name, students in (("8 Heron", ["Wren Okafor", "Malik Diallo"]), ("7 Tern", ["Wren Aalto"])):
        add_students(make_class(school.teacher, name), students)
    colleague = staffroom("other").teacher
    colleague.school = school.teacher.school
    colleague.save()
    theirs = make_class(colleague, "8 Plover")
    add_students(theirs, ["Wren Zhou"])

    def found(words: str) -> list[str]:
        return [
            student["name"] for student in school.client.get("/api/v1/students", {"words": words}).json()["students"]
        ]

    assert found("wren") == ["Wren Aalto", "Wren Okafor"]
    assert found("8 WREN") == ["Wren Okafor"]
    assert found("brandt dial") == ["Malik Diallo"]
    share_class(theirs, school.teacher.pk, may_mark=True, may_run=False)
    assert found("plover") == []
    share_class(theirs, school.teacher.pk, may_mark=False, may_run=True)
    assert found("other wren") == ["Wren Zhou"]

    ids = [student["id"] for student in school.client.get("/api/v1/students", {"words": "wren"}).json()["students"]]
    body = {"name": "Together", "students": [*ids, ids[0]]}
    made = school.client.post("/api/v1/classes/of-students", body, content_type="application/json").json()
    assert [(entry["given_name"], entry["family_name"]) for entry in made["list"]] == [
        ("Wren", "Aalto"), ("Wren", "Okafor"), ("Wren", "Zhou"),
    ]  # fmt: skip
    assert [entry["other_classes"] for entry in made["list"]] == [["7 Tern"], ["8 Heron"], ["8 Plover"]]
    stranger = staffroom("third").sitting().school_class.places.get(desk=1).student_id
    body = {"name": "Others", "students": [stranger]}
    assert school.client.post("/api/v1/classes/of-students", body, content_type="application/json").status_code == 404

    # Of many, the first are shown and the rest are counted; words that nobody has find nobody.
    add_students(make_class(school.teacher, "Year"), [f"Pupil{n} Zed" for n in range(70)])
    many = school.client.get("/api/v1/students", {"words": "zed"}).json()
    assert (len(many["students"]), many["more"]) == (60, 10)
    assert school.client.get("/api/v1/students", {"words": "zed zed2"}).json() == {"students": [], "more": 0}
    assert len(school.client.get("/api/v1/students", {"words": "w" * 5000}).json()["students"]) == 0


def test_two_of_one_name_come_in_together_where_number_or_address_tells_them_apart(school: Staffroom) -> None:
    tern = make_class(school.teacher, "8 Tern")
    two = [
        StudentRow(line=1, given_name="Ines", family_name="Abt", number="1"),
        StudentRow(line=2, given_name="Ines", family_name="Abt", number="2"),
        StudentRow(line=3, given_name="Uma", family_name="Rao", email="a@x.example"),
        StudentRow(line=4, given_name="Uma", family_name="Rao", email="b@x.example"),
    ]
    assert [line.outcome for line in carry_out(school.teacher, tern, two, []).lines] == ["new"] * 4
    # The same list again changes nothing.
    assert [line.outcome for line in carry_out(school.teacher, tern, two, []).lines] == ["same"] * 4
    assert tern.places.count() == 4
    alike = [StudentRow(line=n, given_name="Bo", family_name="Lee") for n in (1, 2)]
    with pytest.raises(DomainError) as refused:
        carry_out(school.teacher, tern, alike, [])
    assert all("twice" in says for says in refused.value.problems)


def shown_in(school: Staffroom, class_id: int) -> list[str]:
    return [line["short_name"] for line in school.client.get(f"/api/v1/classes/{class_id}").json()["list"]]


def test_two_whom_a_teacher_sees_are_never_shown_alike_and_strangers_change_nothing(
    school: Staffroom, staffroom: Any
) -> None:
    tern = make_class(school.teacher, "8 Tern")
    add_students(tern, ["Wren Okafor", "Ines Abt", "王 小明"])
    assert shown_in(school, tern.pk) == ["Wren O.", "Ines A.", "王小明"]
    heron = make_class(school.teacher, "8 Heron")
    add_students(heron, ["Wren Ortega"])
    assert (shown_in(school, tern.pk)[0], shown_in(school, heron.pk)) == ("Wren Ok.", ["Wren Or."])
    # Whoever teaches neither class keeps the short ones, until a class is shared with them.
    colleague = staffroom("varga")
    colleague.teacher.school = school.teacher.school
    colleague.teacher.save()
    plover = make_class(colleague.teacher, "9 Plover")
    add_students(plover, ["Ines Adler"])
    assert (shown_in(colleague, plover.pk), shown_in(school, tern.pk)[1]) == (["Ines A."], "Ines A.")
    share_class(tern, colleague.teacher.pk, may_mark=False, may_run=False)
    assert (shown_in(colleague, plover.pk), shown_in(school, tern.pk)[1]) == (["Ines Ad."], "Ines Ab.")
    # A name that is put right gives the letters back.
    place = heron.places.get()
    change_student(place.student, "Wren", "Zabel")
    assert (shown_in(school, tern.pk)[0], shown_in(school, heron.pk)) == ("Wren O.", ["Wren Z."])


def test_a_bundle_leaves_out_who_is_not_enabled_or_enrolled_and_keeps_addresses(school: Staffroom) -> None:
    """Columns of 1EdTech's OneRoster 1.2 CSV binding, from memory."""
    tern = make_class(school.teacher, "8 Tern")
    day = timezone.localdate()
    users = "sourcedId,enabledUser,givenName,familyName,email\n"
    users += "u1,true,Wren,Okafor,wren@school.example\nu2,false,Ann,Left,\nu3,true,Bo,Lee,\nu4,,Cy,Ito,cy at home\n"
    enrolled = "sourcedId,classSourcedId,userSourcedId,role,beginDate,endDate\n"
    enrolled += f"e1,c1,u1,student,,{day + timedelta(days=90)}\ne2,c1,u2,student,,\n"
    enrolled += f"e3,c1,u3,student,,{day - timedelta(days=1)}\ne4,c1,u4,student,{day},\n"
    files = {
        "manifest.csv": "propertyName,value\noneroster.version,1.2\n",
        "classes.csv": "sourcedId,title\nc1,8 Tern\n",
        "users.csv": users,
        "enrollments.csv": enrolled,
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for name, text in files.items():
            packed.writestr(name, text)
    read = send(school.client, "post", "lists/read", {"name": "r.zip", "data": b64encode(out.getvalue()).decode()})
    (roster,) = read.json()["roster"]
    ended = day - timedelta(days=1)
    assert roster["left_out"] == ["Ann Left, not enabled", f"Bo Lee, not enrolled since {ended:%Y-%m-%d}"]
    assert [wrong["says"] for wrong in roster["wrong"]] == ["“cy at home” of Cy is not a mail address."]
    body = {"students": roster["students"], "wrong": roster["wrong"], "without_wrong": True}
    assert send(school.client, "post", f"classes/{tern.pk}/list", body).status_code == 200
    kept = {(place.student.full_name, place.student.email) for place in tern.places.select_related("student")}
    assert kept == {("Wren Okafor", "wren@school.example"), ("Cy Ito", "")}
