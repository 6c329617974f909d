"""Who a line of a saved table is about, in columns of their own, so that another program finds the student again."""

import re
from collections.abc import Iterable
from dataclasses import dataclass

from django.db.models import Q

from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import Enrolment, Student, may
from versomark.school.delivery.public import Seat, sittings_of

_SEAT = re.compile(r"seat/(\d{1,15})")
_PLACE = re.compile(r"class/(\d{1,15})/student/(\d{1,15})")
AT_ONCE = 500
"""Rows asked for by one query; SQLite takes a thousand values."""


@dataclass(frozen=True)
class Identity:
    family_name: str
    given_name: str
    number: str
    desk: int


def identities(teacher: Teacher, lines: Iterable[str]) -> dict[str, Identity]:
    """By line, `seat/12` or `class/3/student/40`, as the page names its rows. Who may not be seen is left out."""
    wanted = list(dict.fromkeys(lines))
    results = dict[str, Identity]()
    seats = [int(match[1]) for line in wanted if (match := _SEAT.fullmatch(line))]
    own = sittings_of(teacher).values("pk")
    for some in _parts(seats):
        for seat in Seat.objects.filter(pk__in=some, sitting__in=own).select_related("student"):
            results[f"seat/{seat.pk}"] = _identity(seat.student, seat.desk)
    pairs = [(int(match[1]), int(match[2])) for line in wanted if (match := _PLACE.fullmatch(line))]
    for students in _parts([student for _, student in pairs]):
        classes = {school_class for school_class, _ in pairs}
        allowed = Q(school_class__in=classes, student__in=students) & may(teacher, "see", "school_class__")
        for place in Enrolment.objects.filter(allowed).select_related("student"):
            results[f"class/{place.school_class_id}/student/{place.student_id}"] = _identity(place.student, place.desk)
    return {line: results[line] for line in wanted if line in results}


def _identity(student: Student, desk: int) -> Identity:
    return Identity(student.family_name, student.given_name, student.number, desk)


def _parts(values: list[int]) -> Iterable[list[int]]:
    return (values[at : at + AT_ONCE] for at in range(0, len(values), AT_ONCE))
