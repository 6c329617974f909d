"""Placement: bands by the teacher's table, groups and letters of it, and a first part that decides the second."""

import io
from fractions import Fraction
from typing import Any

import pypdfium2
import pytest
from django.test import Client
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.conftest import Device, Staffroom, devices, refs, two_questions
from tests.school.test_writers_queue import in_threads
from versomark.core.giving.placement import Band, PlacementTable
from versomark.core.items import ItemContent
from versomark.core.items.by_rubric import Written
from versomark.core.items.rubric import Criterion, Rubric
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.editions.models import Edition

BANDS = [
    {"least": 0, "recommends": "Course A", "says": "Small steps, with much practice."},
    {"least": 50, "recommends": "Course B"},
    {"least": 100, "recommends": "Course C <b>"},
]


@given(
    cuts=st.lists(st.integers(1, 100), max_size=11, unique=True).map(sorted),
    total=st.integers(-200, 400),
    of=st.integers(1, 400),
)
def test_the_band_is_the_one_of_exact_arithmetic(cuts: list[int], total: int, of: int) -> None:
    """Reference: the same rule in fractions, where 0.1 + 0.2 is 0.3. Totals come in halves."""
    table = PlacementTable(bands=tuple(Band(least=cut, recommends=f"level {cut}") for cut in [0, *cuts]))
    share = Fraction(100 * total, 2 * of)
    assert table.place(total / 2, of) == max((at for at, cut in enumerate([0, *cuts]) if share >= cut), default=0)


@pytest.mark.parametrize("starts", [[10, 50], [0, 0], [0, 60, 40], [-1], [0, 101], []])
def test_a_table_that_leaves_somebody_out_or_is_ambiguous_is_refused(starts: list[float]) -> None:
    with pytest.raises(ValidationError):
        PlacementTable(bands=tuple(Band(least=start, recommends=f"at {n}") for n, start in enumerate(starts)))


def put(school: Staffroom, sitting: Sitting, bands: list[dict[str, Any]]) -> Any:
    return school.client.put(
        f"/api/v1/sittings/{sitting.pk}/placement", {"bands": bands}, content_type="application/json"
    )


def sit(device: Device, sitting: Sitting, right: int) -> None:
    """Answer so many of the two questions rightly, and hand in."""
    device.join()
    first, second = refs(sitting)
    device.answer(first, {"kind": "single_choice", "option": "b" if right > 0 else "c"}, 1)
    device.answer(second, {"kind": "true_false", "value": right > 1}, 2)
    assert device.post("hand-in").status_code == 200


@pytest.mark.django_db
def test_results_groups_and_letters_follow_the_table(school: Staffroom) -> None:
    sitting = school.open_sitting(students=4)
    assert school.client.get(f"/api/v1/sittings/{sitting.pk}/placement").json()["bands"] == []
    for device, right in zip(devices(sitting), (2, 0, 1), strict=False):
        sit(device, sitting, right)
    assert put(school, sitting, BANDS[1:]).json()["detail"].startswith("The lowest band must begin at 0")
    page = put(school, sitting, BANDS[::-1]).json()
    assert [(entry["desk"], entry["total"], entry["band"]) for entry in page["placed"]] == [
        (1, 2, 2),
        (3, 1, 1),
        (2, 0, 0),
    ]
    assert (page["of"], page["waiting"], page["not_in"]) == (2, 0, 1)

    made = school.client.post(f"/api/v1/sittings/{sitting.pk}/placement/groups").json()["groups"]
    assert made == [band["recommends"] for band in BANDS]
    # Done again after the table moved, the groups are brought in line and none is made twice.
    put(school, sitting, [BANDS[0], {"least": 40, "recommends": "Course B"}, {"least": 99, "recommends": "Course D"}])
    school.client.post(f"/api/v1/sittings/{sitting.pk}/placement/groups")
    groups = {group.name: group.students.count() for group in sitting.school_class.groups.all()}
    assert groups == {"Course A": 1, "Course B": 1, "Course C <b>": 1, "Course D": 1}

    put(school, sitting, BANDS)
    printed = school.client.get(f"/api/v1/sittings/{sitting.pk}/placement/letters.pdf")
    document = pypdfium2.PdfDocument(io.BytesIO(printed.content))
    letters = [page.get_textpage().get_text_range() for page in document]
    assert len(letters) == 3
    assert "Course C <b>" in letters[0]
    assert "Small steps, with much practice." in letters[2]
    assert "0 of 2 marks" in letters[2]


@pytest.mark.django_db
def test_a_first_part_decides_the_second_and_only_that_one_is_open(school: Staffroom, staffroom: Any) -> None:
    sitting = school.open_sitting(students=3)
    hard, easy = school.sitting().edition, school.sitting().edition
    strong, weak, middle = devices(sitting)
    bands = [{**BANDS[0], "goes_on": easy.pk}, BANDS[1], {**BANDS[2], "goes_on": hard.pk}]
    foreign: Edition = staffroom("other").sitting().edition
    assert put(school, sitting, [{**BANDS[0], "goes_on": foreign.pk}]).status_code == 404
    assert put(school, sitting, bands).status_code == 200

    strong.join()
    assert strong.client.get("/api/v1/student/next").json()["title"] == ""
    for device, right in ((strong, 2), (weak, 0), (middle, 1)):
        sit(device, sitting, right)
    assert middle.client.get("/api/v1/student/next").json()["title"] == ""
    assert middle.post("next").status_code == 409
    first = strong.seat().json()["seat"]
    second = strong.post("next").json()
    assert second["stage"] == "working"
    assert second["seat"] != first
    # The device holds the second part now, and its work counts there and nowhere else.
    assert strong.seat().json()["seat"] == second["seat"]
    assert weak.post("next").json()["stage"] == "working"
    made = {sitting.edition_id: sitting for sitting in Sitting.objects.exclude(second_part=None)}
    assert {edition: one.seats.count() for edition, one in made.items()} == {hard.pk: 1, easy.pk: 1}
    strong.post("hand-in")
    assert strong.client.get("/api/v1/student/next").json()["title"] == ""

    # Somebody is at work on it: the table can move, the part that is under way stays.
    assert put(school, sitting, BANDS).status_code == 409
    # A part that the teacher has closed is not opened again by a student.
    services.close_sitting(made[easy.pk])
    weak.join()
    assert weak.client.get("/api/v1/student/next").json()["title"] == ""


@pytest.mark.django_db
def test_what_a_person_marks_is_not_counted_and_no_second_part_hangs_on_it(school: Staffroom) -> None:
    contents: list[ItemContent] = [
        *two_questions(),
        Written(stem="Explain.", rubric=Rubric(criteria=[Criterion(id="c", name="Reason", max=4)])),
    ]
    sitting = school.open_sitting(contents=contents, students=1)
    device = devices(sitting)[0]
    device.join()
    device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 1)
    device.answer(refs(sitting)[2], {"kind": "written", "text": "Because."}, 2)
    device.post("hand-in")
    page = put(school, sitting, BANDS).json()
    assert (page["of"], page["waiting"], page["placed"][0]["total"]) == (2, 1, 1)
    refused = put(school, sitting, [{**BANDS[0], "goes_on": sitting.edition_id}])
    assert "somebody has to mark" in refused.json()["detail"]


@pytest.mark.django_db(transaction=True)
def test_a_class_that_goes_on_at_once_has_one_second_part_and_a_seat_each(school: Staffroom) -> None:
    """Eight students press at the same moment, two of them on two devices."""
    sitting = school.open_sitting(students=8)
    second = school.sitting().edition
    put(school, sitting, [{**BANDS[0], "goes_on": second.pk}])
    phones = devices(sitting)
    for phone in phones:
        sit(phone, sitting, 0)
    doubled = [Device(Client(), phone.code, phone.pass_phrase) for phone in phones[:2]]
    for phone in doubled:
        phone.join()
        phone.post("here")
    for phone, twin in zip(phones, doubled, strict=False):
        phone.client.cookies = twin.client.cookies
    seats: dict[int, int] = {}

    def go_on(at: int) -> None:
        phone = [*phones, *doubled][at]
        reply = phone.post("next")
        assert reply.status_code in (200, 409), reply.content  # 409: the other device of the two was quicker
        if reply.status_code == 200:
            seats[at] = reply.json()["seat"]

    assert in_threads(10, go_on) == []
    sittings = Sitting.objects.exclude(second_part=None)
    assert sittings.count() == 1
    assert sittings.get().seats.count() == 8
    assert len({seats[at] for at in range(2, 8)}) == 6
    # Each student has one seat there, whichever of their devices sits at it.
    assert set(sittings.get().seats.values_list("pk", flat=True)) == set(seats.values())
