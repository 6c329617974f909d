"""Who gets which paper, every door that prints, and groups made from a finding."""

import io
from collections.abc import Callable

import pypdfium2
import pytest

from tests.conftest import Staffroom, devices, problems_of, refs
from tests.school.test_teacher_side import layout, send
from versomark.core.items import Option, SingleChoice
from versomark.school.classes.models import Enrolment, Group
from versomark.school.delivery import services
from versomark.school.delivery.queries import sitting_of

pytestmark = pytest.mark.django_db


def two_form_sitting(school: Staffroom, students: int) -> services.Sitting:
    options = [Option(id=id, text=f"Option {id}") for id in "abcd"]
    contents = [SingleChoice(stem=f"Which {n}?", options=options, key="b") for n in range(4)]
    sitting = school.sitting(contents=contents, students=students)  # type: ignore[arg-type]
    test = sitting.edition.test
    paper = layout(*refs(sitting)) | {"forms": 2}
    send(school.client, "put", f"tests/{test.pk}", {"title": "T", "instructions": "", "layout": paper})
    edition = send(school.client, "post", f"tests/{test.pk}/freeze").json()["id"]
    body = {"edition": edition, "class_id": sitting.school_class_id}
    made = send(school.client, "post", "sittings", body).json()
    return sitting_of(school.teacher, made["id"])


def test_a_class_is_told_how_many_of_which_paper_it_needs(school: Staffroom) -> None:
    sitting = two_form_sitting(school, 5)
    places = list(Enrolment.objects.filter(school_class=sitting.school_class).order_by("desk"))
    for place in (places[0], places[3]):
        body = {"given_name": place.student.given_name, "family_name": "F", "large_print": True}
        path = f"classes/{sitting.school_class_id}/students/{place.student_id}"
        assert send(school.client, "put", path, body).status_code == 200
    page = school.client.get(f"/api/v1/sittings/{sitting.pk}").json()
    # Forms go round by desk number: 1 A, 2 B, 3 A, 4 B, 5 A.
    assert [(paper["form"], paper["large"], len(paper["names"])) for paper in page["papers"]] == [
        ("A", False, 2),
        ("B", False, 1),
        ("A", True, 1),
        ("B", True, 1),
    ]
    assert sum(len(paper["names"]) for paper in page["papers"]) == page["seats"]
    for paper in page["papers"]:
        what = "large-18" if paper["large"] else "booklet"
        sent = school.client.get(f"/api/v1/editions/{sitting.edition_id}/print/{what}?form={paper['form']}")
        assert sent["Content-Type"] == "application/pdf"
        text = pypdfium2.PdfDocument(io.BytesIO(sent.content))[0].get_textpage().get_text_range()
        assert f"form {paper['form']}" in text
        assert ("large print" in text) == paper["large"]


def test_doors_that_print_say_what_they_cannot_print(school: Staffroom) -> None:
    sitting = school.sitting()
    at = f"/api/v1/editions/{sitting.edition_id}/print"
    assert school.client.get(f"{at}/booklet?form=B").status_code in (404, 422)
    assert school.client.get(f"{at}/poster").status_code == 422
    assert school.client.get("/api/v1/editions/999999/print/booklet").status_code == 404
    test = send(school.client, "post", "tests", {"title": "Unfinished"}).json()["id"]
    options = [{"id": id, "text": "", "idea_note": ""} for id in "ab"]
    half = {"kind": "single_choice", "stem": "Half", "options": options, "key": None}
    item = send(school.client, "post", "items", {"content": half}).json()["id"]
    body = {"title": "Unfinished", "instructions": "", "layout": layout(item)}
    send(school.client, "put", f"tests/{test}", body)
    # A draft is printed as it stands, to be looked at; it cannot be frozen.
    assert school.client.get(f"/api/v1/tests/{test}/print/booklet").status_code in (200, 409)
    refused = send(school.client, "post", f"tests/{test}/freeze")
    assert refused.status_code == 409
    assert problems_of(refused)


def test_a_group_is_of_those_who_gave_the_answer_and_are_still_here(
    school: Staffroom, staffroom: Callable[[str], Staffroom]
) -> None:
    sitting = school.open_sitting(students=5)
    one = refs(sitting)[0]
    for device, option in zip(devices(sitting), "aabab", strict=True):
        device.join()
        device.answer(one, {"kind": "single_choice", "option": option}, 1)
        device.post("hand-in")
    services.close_sitting(sitting)
    path = f"sittings/{sitting.pk}/findings/groups"
    body = send(school.client, "post", path, {"ref": one, "answer": "A", "name": "Talk again"}).json()
    assert (body["name"], body["students"]) == ("Talk again", 3)
    group = Group.objects.get()
    assert group.made_from == "A test, question 1, A: the idea behind it"
    names = [student.given_name for student in group.students.order_by("pk")]
    assert names == ["Student1", "Student2", "Student4"]
    assert send(school.client, "post", path, {"ref": one, "answer": "A", "name": "Talk again"}).status_code == 409
    nobody = send(school.client, "post", path, {"ref": one, "answer": "D", "name": "X"})
    assert (nobody.status_code, "nobody to put together" in nobody.json()["detail"]) == (409, True)
    assert send(school.client, "post", path, {"ref": one, "answer": "Z", "name": "X"}).status_code == 404
    assert send(school.client, "post", path, {"ref": "0", "answer": "A", "name": "X"}).status_code == 404
    # Who gave no answer to the second question: everybody. Who has left since is not taught again.
    first = Enrolment.objects.filter(school_class=sitting.school_class).order_by("desk")[0]
    send(school.client, "delete", f"classes/{sitting.school_class_id}/students/{first.student_id}")
    rest = send(school.client, "post", path, {"ref": refs(sitting)[1], "answer": None, "name": "Left it out"}).json()
    assert rest["students"] == 4
    assert send(staffroom("other").client, "post", path, {"ref": one, "answer": "A", "name": "X"}).status_code == 404
