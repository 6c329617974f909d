"""A class list as a file: CSV, a workbook, or a OneRoster bundle."""

from collections.abc import Iterable
from typing import Literal

from django.utils.text import slugify

from versomark.core.formats.oneroster import SentClass, SentStudent, write_bundle
from versomark.school.tables_out import CSV_TYPE, SHEET_TYPE, Cell, csv_file, inert, workbook

from .models import SchoolClass
from .services import places_of

HEADS = (
    "Desk", "Given name", "Family name", "Student number", "E-mail", "Groups", "Tags", "Extra time", "Large print",
    "Quiet start", "Breaks in minutes", "Read aloud", "Guardian’s e-mail",
)  # fmt: skip


def class_list(school_class: SchoolClass, form: Literal["csv", "xlsx", "oneroster"]) -> tuple[bytes, str, str]:
    """The file, its type and its name. Read again by the import, a list changes nothing."""
    name = slugify(school_class.name) or "class"
    if form == "oneroster":
        students = [
            SentStudent(s.number or f"verso-{s.pk}", s.given_name, s.family_name, s.email)
            for s in (place.student for place in places_of(school_class))
        ]
        sent = SentClass(f"verso-class-{school_class.pk}", school_class.name, students)
        return write_bundle(school_class.owner.school.name, [sent]), "application/zip", f"{name}-oneroster.zip"
    rows = _rows(school_class)
    if form == "xlsx":
        return workbook(school_class.name, HEADS, rows), SHEET_TYPE, f"{name}.xlsx"
    return csv_file(HEADS, rows), CSV_TYPE, f"{name}.csv"


def _rows(school_class: SchoolClass) -> list[list[Cell]]:
    places = places_of(school_class).prefetch_related("student__tags", "student__groups")
    return [
        [
            place.desk,
            inert(place.student.given_name),
            inert(place.student.family_name),
            inert(place.student.number),
            inert(place.student.email),
            _several(
                g.name for g in place.student.groups.all() if g.school_class_id == school_class.pk and not g.made_from
            ),
            _several(tag.name for tag in place.student.tags.all() if tag.owner_id == school_class.owner_id),
            f"{place.student.extra_time}%" if place.student.extra_time else "",
            "yes" if place.student.large_print else "",
            "yes" if place.student.quiet_start else "",
            place.student.break_minutes or "",
            "yes" if place.student.read_aloud == "on" else "",
            inert(place.student.guardian_email),
        ]
        for place in places
    ]


def _several(names: Iterable[str]) -> str:
    """Names with semicolons between; one that holds another sign of division ends in one, to be read as a whole."""
    listed = list(names)
    alone = len(listed) == 1 and any(sign in listed[0] for sign in ",|/")
    return inert("; ".join(listed) + (";" if alone else ""))
