"""A class by skill, groups from it, and personal feedback sheets; the PDF is read again by another library."""

from collections.abc import Callable
from typing import Any

import numpy as np
import pypdfium2
import pytest

from tests.conftest import Staffroom, devices, refs
from tests.school.test_results import own, own_result
from versomark.core.items import Option, SingleChoice, TrueFalse
from versomark.core.stats.mastery import mastery
from versomark.school.bank.services import Details, make_item
from versomark.school.classes.services import add_students, make_class, share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.services import freeze, keep_items, make_test
from versomark.school.feedback.skills import mastery_in, table_in
from versomark.school.grading.models import HiddenNames

pytestmark = pytest.mark.django_db
SKILLS = ["Loops"] * 3 + ["Meters"] * 3 + ["Energy"]
ANSWERS = np.array(
    [
        [1, 1, 1, 1, 1, 1, 1],
        [1, 1, 0, 0, 0, 0, 1],
        [0, 0, 0, 1, 1, 1, 0],
        [1, 0, 0, 0, 0, 1, 0],
    ],
    float,
)


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    options = [Option(id=name, text=name) for name in "ab"]
    items = [
        make_item(school.teacher, SingleChoice(stem=f"Q{n}?", options=options, key="a"), Details([skill]))
        for n, skill in enumerate(SKILLS)
    ]
    school_class = make_class(school.teacher, "8 Lark")
    add_students(school_class, ["Ada Ash", "Ben Birch", "Cem Cedar", "Dora Dale", "Eve Elm"])
    test = keep_items(make_test(school.teacher, "T"), "Circuits", "", [item.pk for item in items])
    sitting = services.open_sitting(services.plan(school.teacher, freeze(test), school_class, None))
    for device, row in zip(devices(sitting), ANSWERS, strict=False):
        device.join()
        for at, (ref, right) in enumerate(zip(refs(sitting), row, strict=True), start=1):
            device.answer(ref, {"kind": "single_choice", "option": "a" if right else "b"}, at)
        device.post("hand-in")
    return services.close_sitting(sitting)


def page(school: Staffroom, sitting: Sitting, what: str, **query: Any) -> Any:
    return school.client.get(f"/api/v1/sittings/{sitting.pk}/results/{what}", query)


def put(school: Staffroom, sitting: Sitting, **body: Any) -> Any:
    path = f"/api/v1/sittings/{sitting.pk}/results/feedback"
    return school.client.put(path, body, content_type="application/json")


def text_of(pdf: bytes) -> list[str]:
    document = pypdfium2.PdfDocument(pdf)
    return [" ".join(entry.get_textpage().get_text_bounded().split()) for entry in document]


def follow_up(school: Staffroom, stem: str, skill: str, key: bool = True) -> str:
    return str(make_item(school.teacher, TrueFalse(stem=stem, key=key), Details([skill])).pk)


def test_the_class_by_skill_is_that_of_the_core_weakest_first(school: Staffroom, sat: Sitting) -> None:
    body = page(school, sat, "skills").json()
    expected = mastery(ANSWERS, np.ones(7), [[skill] for skill in SKILLS])
    names = [skill["name"] for skill in body["skills"]]
    assert names == ["Loops", "Meters", "Energy"]  # six of twelve marks, seven of twelve; one mark says too little
    order = [expected.skills.index(name) for name in names]
    assert [student["name"] for student in body["students"]] == [
        "Ada A.",
        "Ben B.",
        "Cem C.",
        "Dora D.",
    ]  # Eve did not sit it
    for i, student in enumerate(body["students"]):
        for at, cell in zip(order, student["cells"], strict=True):
            assert cell["share"] == pytest.approx(expected.share[i, at])
            assert (cell["low"], cell["high"]) == pytest.approx((expected.low[i, at], expected.high[i, at]))
            assert cell["band"] == expected.band(i, at)
    loops, energy = body["skills"][0], body["skills"][2]
    assert (loops["secure"], loops["nearly"], loops["not_yet"], loops["enough"]) == (1, 1, 2, True)
    assert [question["number"] for question in loops["questions"]] == [1, 2, 3]
    assert (energy["enough"], energy["secure"]) == (False, 0)
    assert "2 of 4 are not yet there in Loops." in body["opening"]
    lower = page(school, sat, "skills", secure=60, nearly=30).json()["skills"]
    assert [(entry["name"], entry["secure"]) for entry in lower][:2] == [("Loops", 2), ("Meters", 2)]
    assert page(school, sat, "skills", secure=50, nearly=50).status_code == 422


def test_a_group_is_made_of_a_band(school: Staffroom, sat: Sitting) -> None:
    def make(**body: Any) -> Any:
        path = f"/api/v1/sittings/{sat.pk}/results/skills/groups"
        whole = {"skill": "Loops", "bands": ["not yet"], "name": "More loops", "secure": 80, "nearly": 50, **body}
        return school.client.post(path, whole, content_type="application/json")

    assert make().json()["students"] == 2
    group = sat.school_class.groups.get()
    assert [str(student) for student in group.students.order_by("given_name")] == ["Cem C.", "Dora D."]
    assert group.made_from == "Circuits, Loops: not yet"
    assert "a group called More loops already" in make().json()["detail"]
    assert make(name="Both", bands=["not yet", "nearly"]).json()["students"] == 3
    assert "Nobody is there" in make(name="None", skill="Energy").json()["detail"]
    assert make(name="None", skill="No such").status_code == 404
    assert make(name="None", bands=[]).status_code == 422


def test_sheets_say_each_student_their_own_and_the_teacher_all_answers(school: Staffroom, sat: Sitting) -> None:
    loop = follow_up(school, "A loop with a gap lights a lamp.", "Loops", key=False)
    meter = follow_up(school, "An ammeter stands beside the lamp.", "Meters", key=False)
    other = follow_up(school, "A voltmeter stands beside the lamp.", "Meters")
    begun = page(school, sat, "feedback").json()
    lines = {line["skill"]: line for line in begun["lines"]}
    assert lines["Loops"]["chosen"] == loop
    assert {choice["item"] for choice in lines["Meters"]["choices"]} == {meter, other}
    assert lines["Energy"]["chosen"] is None  # those of the test itself are not asked again
    wanted = {"Loops": loop, "Meters": meter}
    body = put(school, sat, intro="Dear all,\nlook.", closing="See you.", follow_ups=wanted).json()
    assert body["follow_ups"] == {**wanted, "Energy": None}

    *sheets, last = text_of(page(school, sat, "feedback.pdf").content)
    assert len(sheets) == 4
    ada, ben, cem, dora = sheets
    assert "Ada Ash" in ada
    assert "7 of 7 marks" in ada
    # Praise only where the evidence carries it: of one mark nothing can be said.
    assert "Well done" not in ada
    assert "You are secure in Loops and Meters." in ada
    assert "On Energy this test asks too little to say" in ada
    assert "Loops: question" in " ".join(dora.split())
    assert "One of two answers can be luck" in dora
    for sheet, name, loops, meters in ((ben, "Ben Birch", True, True), (cem, "Cem Cedar", True, False)):
        assert name in sheet
        assert ("A loop with a gap" in sheet) is loops
        assert ("An ammeter stands" in sheet) is meters
        assert "Dear all, look." in sheet
        assert "See you." in sheet
        assert "Key" not in sheet
    for sheet, others in ((ada, "Ben Cem Dora"), (ben, "Ada Cem Dora"), (dora, "Ada Ben Cem")):
        assert not any(name in sheet for name in others.split())
    assert "For the teacher" in last
    # One of two answers can be luck, so a second question is asked where the bank has one.
    assert last.count("Key") == 3
    assert "voltmeter" in ben

    seat = sat.seats.get(desk=4)
    (one,) = text_of(page(school, sat, "feedback.pdf", seat=seat.pk).content)
    assert "Dora Dale" in one
    put(school, sat, marks=False, follow_ups={"Loops": None, "Meters": None})
    words = text_of(page(school, sat, "feedback.pdf").content)
    assert len(words) == 4  # nothing is asked, so there is no page of answers
    assert not any(" of 7" in sheet or "A loop" in sheet for sheet in words)
    assert "not yet" in words[3]


def test_nobody_who_lost_marks_is_congratulated_whatever_the_bank_holds(school: Staffroom, sat: Sitting) -> None:
    """Without a question to ask again, each skill that is not secure is named with the questions to look at again."""
    sheets = text_of(page(school, sat, "feedback.pdf").content)
    table, seats = table_in(sat)
    result = mastery_in(table)
    for i, sheet in enumerate(sheets[: len(seats)]):
        words = " ".join(sheet.split())
        weak = [name for at, name in enumerate(result.skills) if result.band(i, at) in ("nearly", "not yet")]
        assert ("Well done" in words) is (not weak and all(result.band(i, at) for at in range(len(result.skills))))
        for name in weak:
            assert f"{name}: question" in words


def test_a_released_result_says_what_wants_work_first_and_in_words_no_number(school: Staffroom, sat: Sitting) -> None:
    def release(marks: bool) -> None:
        path = f"/api/v1/sittings/{sat.pk}/results/release"
        body = {"marks": marks, "answers": False}
        assert school.client.put(path, body, content_type="application/json").status_code == 200

    release(marks=True)
    cem = own(sat, 3)
    expected = [("Loops", "not yet", 0.0, 3.0), ("Meters", "secure", 3.0, 3.0), ("Energy", None, 0.0, 1.0)]
    seen = own_result(cem, sat).json()["skills"]
    assert [(entry["name"], entry["band"], entry["marks"], entry["of"]) for entry in seen] == expected
    # The teacher's own lines count, and through a student's eyes it is the same.
    put(school, sat, secure=100, nearly=10)
    assert [skill["band"] for skill in own_result(own(sat, 2), sat).json()["skills"]] == ["not yet", "nearly", None]
    seat = sat.seats.get(desk=3)
    eyes = school.client.get(f"/api/v1/sittings/{sat.pk}/results/seats/{seat.pk}")
    assert eyes.json()["skills"] == own_result(cem, sat).json()["skills"]
    release(marks=False)
    assert {(skill["marks"], skill["of"]) for skill in own_result(cem, sat).json()["skills"]} == {(None, None)}


def test_what_cannot_be_is_said_and_stays_with_its_teacher(
    school: Staffroom, staffroom: Callable[[str], Staffroom], sat: Sitting
) -> None:
    stranger = staffroom("stranger")
    theirs = follow_up(stranger, "Not yours.", "Loops")
    assert put(school, sat, follow_ups={"Loops": theirs}).status_code == 404
    assert put(school, sat, secure=40, nearly=60).status_code == 422
    assert page(stranger, sat, "feedback.pdf").status_code == 404
    nobody = sat.seats.get(desk=5)
    assert page(school, sat, "feedback.pdf", seat=nobody.pk).status_code == 404
    # A colleague who may see the class reads the sheets, with the owner's questions, and changes nothing.
    colleague = staffroom("colleague")
    colleague.teacher.school = school.teacher.school
    colleague.teacher.save()
    share_class(sat.school_class, colleague.teacher.pk, may_mark=False, may_run=False)
    mine = follow_up(school, "A loop with a gap lights a lamp.", "Loops")
    put(school, sat, follow_ups={"Loops": mine})
    assert "A loop with a gap" in " ".join(text_of(page(colleague, sat, "feedback.pdf").content))
    assert put(colleague, sat, intro="Mine.").status_code == 403
    lines = page(colleague, sat, "feedback").json()["lines"]
    assert all(not line["choices"] or line["skill"] == "Loops" for line in lines)
    HiddenNames.objects.create(sitting=sat, seed=1)
    assert "names of this sitting are hidden" in page(school, sat, "skills").json()["detail"]
    assert page(school, sat, "feedback.pdf").status_code == 409
