"""Two markers at the same pile in the same moment, and numbers that stay while work comes in."""

import threading
from typing import Any

import pytest
from django.test import Client

from tests.conftest import PASSWORD, Staffroom, devices, refs
from tests.school.test_marking import contents, page_of, put, sit
from tests.school.test_writers_queue import in_threads
from versomark.school.accounts.models import Teacher
from versomark.school.classes.services import share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import Sitting
from versomark.school.grading.models import CurrentMark, Mark, MarkState
from versomark.school.grading.numbers import numbered

STUDENTS = 6


def handed_in(school: Staffroom, students: int = STUDENTS) -> Sitting:
    sitting = school.open_sitting(contents=contents(), students=students)
    for device in devices(sitting):
        sit(device, sitting, 0)
    return sitting


def signed_in(teacher: Teacher) -> Client:
    client = Client()
    client.force_login(teacher, backend="django.contrib.auth.backends.ModelBackend")
    return client


@pytest.mark.django_db(transaction=True)
def test_of_two_at_the_same_answer_one_stands_one_is_kept_beside_it_and_its_marker_is_told(school: Staffroom) -> None:
    sitting = services.close_sitting(handed_in(school))
    second = Teacher.objects.create_teacher(school.teacher.school, "Varga", "varga", PASSWORD)
    share_class(sitting.school_class, second.pk, may_mark=True, may_run=False)
    explain, together = refs(sitting)[2], threading.Barrier(2)
    told: dict[tuple[int, int], Any] = {}

    def mark(who: int) -> None:
        client = signed_in([school.teacher, second][who])
        for number in range(1, STUDENTS + 1):
            together.wait(20)
            body = {"points": {"idea": 1 + who, "words": 1}, "seen": None}
            told[who, number] = put(client, sitting, f"{explain}/{number}", body).json()

    assert in_threads(2, mark) == []
    assert Mark.objects.count() == 2 * STUDENTS
    for number in range(1, STUDENTS + 1):
        stood = [told[who, number]["stands"] for who in (0, 1)]
        assert sorted(stood) == [False, True]
        quick, late = stood.index(True), stood.index(False)
        assert told[late, number]["other"]["points"]["idea"] == 1 + quick
        standing = CurrentMark.objects.get(seat__desk=number, seat__sitting=sitting, item=explain).mark
        assert standing.points["idea"] == 1 + quick
    assert Mark.objects.filter(state=MarkState.ASIDE).count() == STUDENTS


@pytest.mark.django_db
def test_numbers_are_one_to_one_and_stay_while_more_hand_in(school: Staffroom) -> None:
    """What was marked as number 7 must not be somebody else's number 7 tomorrow."""
    sitting = school.open_sitting(contents=contents(), students=STUDENTS)
    put(school.client, sitting, "names", {"hidden": True})
    known: dict[int, int] = {}
    for device in devices(sitting):
        sit(device, sitting, 0)
        now = {number: seat.pk for number, seat in numbered(sitting).items()}
        assert known.items() <= now.items()
        assert len(set(now.values())) == len(now) == len(known) + 1
        assert list(now) == sorted(now)
        known = now
    assert set(known) == set(range(1, STUDENTS + 1))
    shown = {entry["number"] for entry in page_of(school.client, sitting)["entries"][refs(sitting)[2]]}
    assert shown == set(known)
    # The order is not that of the desks, nor the same in the next sitting: six have 720, and eight draws differ.
    orders = set()
    for _ in range(8):
        other = handed_in(school)
        put(school.client, other, "names", {"hidden": True})
        orders.add(tuple(seat.desk for seat in numbered(other).values()))
    assert len(orders) > 4
