"""Numbers typed along a record are those that are set one by one; all of them are kept or none."""

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.conftest import Staffroom, devices, refs
from versomark.school.classes.services import share_class
from versomark.school.delivery import services
from versomark.school.delivery.models import SeatState, Sitting
from versomark.school.grading.models import ManualTotal
from versomark.school.records.models import ManualTermGrade, Term

pytestmark = pytest.mark.django_db


@pytest.fixture
def sat(school: Staffroom) -> Sitting:
    """Two of three have handed in."""
    sitting = school.open_sitting(students=3)
    for device in devices(sitting)[:2]:
        device.join()
        device.answer(refs(sitting)[0], {"kind": "single_choice", "option": "b"}, 1)
        device.post("hand-in")
    Term.objects.create(owner=school.teacher, name="All of it", starts="2000-01-01", ends="2100-01-01")
    return services.close_sitting(sitting)


def put(school: Staffroom, sitting: Sitting, **body: Any) -> Any:
    path = f"/api/v1/classes/{sitting.school_class_id}/record/numbers"
    return school.client.put(path, {"reason": "Oral test.", **body}, content_type="application/json")


def record(school: Staffroom, sitting: Sitting) -> list[Any]:
    students = school.client.get(f"/api/v1/classes/{sitting.school_class_id}/record").json()["students"]
    for entry in students:
        for cell in entry["cells"]:
            cell.pop("seat")
    return students


NUMBERS = st.lists(st.tuples(st.integers(0, 2), st.sampled_from([None, 0, 0.5, 1, 2])), max_size=5)


@given(NUMBERS, NUMBERS)
@settings(max_examples=15, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_along_the_grid_is_as_one_by_one(
    school: Staffroom, sat: Sitting, totals: list[tuple[int, float | None]], shares: list[tuple[int, float | None]]
) -> None:
    seats, term = list(sat.seats.order_by("desk")), Term.objects.get()
    typed = {
        "totals": [{"seat": seats[at].pk, "total": total} for at, total in totals],
        "standings": [
            {"student": seats[at].student_id, "term": term.pk, "share": share and share / 2} for at, share in shares
        ],
    }
    ManualTotal.objects.all().delete()
    ManualTermGrade.objects.all().delete()
    assert put(school, sat, **typed).status_code == 200
    along = record(school, sat)
    ManualTotal.objects.all().delete()
    ManualTermGrade.objects.all().delete()
    for one in typed["totals"]:
        path = f"/api/v1/sittings/{sat.pk}/results/seats/{one['seat']}/total"
        body = {"total": one["total"], "reason": "Oral test."}
        if one["total"] is None:
            assert school.client.delete(path).status_code == 200
        else:
            assert school.client.put(path, body, content_type="application/json").status_code == 200
    for one in typed["standings"]:
        path = f"/api/v1/classes/{sat.school_class_id}/record/terms/{term.pk}/{one['student']}"
        body = {"share": one["share"], "reason": "Oral test."}
        if one["share"] is None:
            assert school.client.delete(path).status_code == 200
        else:
            assert school.client.put(path, body, content_type="application/json").status_code == 200
    assert along == record(school, sat)
    last = dict(totals)
    for at, total in last.items():
        assert along[at]["cells"][0]["set"] is (total is not None)
        assert total is None or along[at]["cells"][0]["total"] == total


def test_one_that_cannot_stand_keeps_all_others_out(school: Staffroom, sat: Sitting) -> None:
    one, two, nobody = sat.seats.order_by("desk")
    before = record(school, sat)
    begun = put(school, sat, totals=[{"seat": one.pk, "total": 2}], away=[{"seat": two.pk, "how": "excused"}])
    assert (begun.status_code, begun.json()["detail"]) == (409, "Student2 F. has begun; the answers are kept.")
    no_reason = put(school, sat, reason=" ", totals=[{"seat": one.pk, "total": 2}])
    assert "Give the reason" in no_reason.json()["detail"]
    assert put(school, sat, totals=[{"seat": one.pk, "total": 2}, {"seat": 10**9, "total": 1}]).status_code == 404
    assert put(school, sat, totals=[{"seat": one.pk, "total": -1}]).status_code == 422
    assert put(school, sat, standings=[{"student": one.student_id, "term": 10**9, "share": 1}]).status_code == 404
    assert record(school, sat) == before
    assert not ManualTotal.objects.exists()

    # Who was away is said without a reason, and an absence takes the place of a total.
    put(school, sat, totals=[{"seat": nobody.pk, "total": 1}])
    assert put(school, sat, reason="", away=[{"seat": nobody.pk, "how": "excused"}]).status_code == 200
    nobody.refresh_from_db()
    assert nobody.state == SeatState.EXCUSED
    assert record(school, sat)[2]["cells"][0]["word"] == "excused"
    refused = put(school, sat, totals=[{"seat": nobody.pk, "total": 1}]).json()["detail"]
    assert refused == "Student3 F. is excused, so no total stands for them."


def test_it_takes_the_rights_of_what_is_typed(
    school: Staffroom, staffroom: Callable[[str], Staffroom], sat: Sitting
) -> None:
    seat, term = sat.seats.order_by("desk").first(), Term.objects.get()
    assert seat is not None
    total = {"totals": [{"seat": seat.pk, "total": 1}]}
    standing = {"standings": [{"student": seat.student_id, "term": term.pk, "share": 0.5}]}
    for name, rights, expected in (
        ("looks", {"may_mark": False, "may_run": False}, (403, 403, 403)),
        ("marks", {"may_mark": True, "may_run": False}, (200, 403, 403)),
        ("runs", {"may_mark": False, "may_run": True}, (403, 200, 403)),
        ("both", {"may_mark": True, "may_run": True}, (200, 200, 200)),
    ):
        colleague = staffroom(name)
        colleague.teacher.school = school.teacher.school
        colleague.teacher.save()
        share_class(sat.school_class, colleague.teacher.pk, **rights)
        replies = [put(colleague, sat, **body).status_code for body in (total, standing, total | standing)]
        assert tuple(replies) == expected, name
    stranger = staffroom("stranger")
    assert put(stranger, sat, **total).status_code == 404
