"""A class list as a file: CSV, a workbook, or a OneRoster bundle."""

import csv
import io
from collections.abc import Iterable
from typing import Literal

from django.utils.text import slugify

from versomark.core.formats.oneroster import SentClass, SentStudent, write_bundle

from .models import SchoolClass
from .services import places_of

HEADS = (
    "Desk", "Given name", "Family name", "Student number", "Groups", "Tags", "Extra time", "Large print",
    "Quiet start", "Read aloud",
)  # fmt: skip
SHEET_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def class_list(school_class: SchoolClass, form: Literal["csv", "xlsx", "oneroster"]) -> tuple[bytes, str, str]:
    """The file, its type and its name. Read again by the import, a list changes nothing."""
    name = slugify(school_class.name) or "class"
    if form == "oneroster":
        students = [
            SentStudent(s.number or f"verso-{s.pk}", s.given_name, s.family_name)
            for s in (place.student for place in places_of(school_class))
        ]
        sent = SentClass(f"verso-class-{school_class.pk}", school_class.name, students)
        return write_bundle(school_class.owner.school.name, [sent]), "application/zip", f"{name}-oneroster.zip"
    rows = _rows(school_class)
    if form == "xlsx":
        return _workbook(school_class.name, rows), SHEET_TYPE, f"{name}.xlsx"
    text = io.StringIO()
    csv.writer(text).writerows([HEADS, *rows])
    return b"\xef\xbb\xbf" + text.getvalue().encode(), "text/csv; charset=utf-8", f"{name}.csv"


def _rows(school_class: SchoolClass) -> list[list[str]]:
    places = places_of(school_class).prefetch_related("student__tags", "student__groups")
    return [
        [
            str(place.desk),
            _inert(place.student.given_name),
            _inert(place.student.family_name),
            _inert(place.student.number),
            _several(
                g.name for g in place.student.groups.all() if g.school_class_id == school_class.pk and not g.made_from
            ),
            _several(tag.name for tag in place.student.tags.all() if tag.owner_id == school_class.owner_id),
            f"{place.student.extra_time}%" if place.student.extra_time else "",
            "yes" if place.student.large_print else "",
            "yes" if place.student.quiet_start else "",
            "yes" if place.student.read_aloud == "on" else "",
        ]
        for place in places
    ]


def _several(names: Iterable[str]) -> str:
    """Names with semicolons between; one that holds another sign of division ends in one, to be read as a whole."""
    listed = list(names)
    alone = len(listed) == 1 and any(sign in listed[0] for sign in ",|/")
    return _inert("; ".join(listed) + (";" if alone else ""))


def _inert(text: str) -> str:
    """A cell that a spreadsheet does not take for a formula: an apostrophe before it, which the import takes off."""
    return f"'{text}" if text.lstrip("'")[:1] in ("=", "+", "-", "@") and text else text


def _workbook(title: str, rows: list[list[str]]) -> bytes:
    from openpyxl import Workbook
    from openpyxl.styles import Font

    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "".join(letter for letter in title if letter not in "[]:*?/\\")[:31] or "Class"
    sheet.append(list(HEADS))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for row in rows:
        sheet.append([int(row[0]), *row[1:]])
    sheet.freeze_panes = "A2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
