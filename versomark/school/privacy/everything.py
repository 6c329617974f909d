"""Everything that is kept of one student, as a file to hand to them: to read, and for another program.

The rows are keys_of by following the foreign keys of the database, not by a list that somebody has to remember: a table
that a later version adds is in it by itself.
"""

import io
import json
import zipfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from django.core.serializers.json import DjangoJSONEncoder
from django.db.models import CASCADE, Model
from django.http import Http404

from versomark.core.language import _, in_language
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import SchoolClass, Student, student_exporting
from versomark.school.delivery.public import Sitting
from versomark.school.errors import DomainError
from versomark.school.files import here
from versomark.school.reports.public import pdf_on

Rows = dict[str, list[dict[str, Any]]]


def rows_about(student: Student) -> Rows:
    """Table -> rows, the student's own first; of people who work here the name alone."""
    keys_of: dict[type[Model], set[Any]] = {Student: {student.pk}}
    waiting: list[type[Model]] = [Student]
    while waiting:
        model = waiting.pop(0)
        for relation in model._meta.related_objects:
            other = relation.related_model
            if relation.many_to_many or not isinstance(other, type):
                continue
            # What only points at them is theirs too; beyond that only what would go with a row.
            if model is not Student and relation.on_delete is not CASCADE:
                continue
            keys = set(
                other._default_manager.filter(**{f"{relation.field.name}__in": keys_of[model]}).values_list(
                    "pk", flat=True
                )
            )
            new = keys - keys_of.get(other, set())
            if new:
                keys_of.setdefault(other, set()).update(new)
                if other not in waiting:
                    waiting.append(other)
    return {
        model._meta.label: [_plain(row) for row in model._default_manager.filter(pk__in=keys).order_by("pk")]
        for model, keys in keys_of.items()
    } | {
        "groups": [{"name": group.name} for group in student.groups.all()],
        "tags": [{"name": tag.name} for tag in student.tags.all()],
    }


def _plain(row: Model) -> dict[str, Any]:
    values: dict[str, Any] = {}
    for field in row._meta.concrete_fields:
        value = getattr(row, field.attname)
        if field.is_relation and field.related_model is Teacher:
            value = getattr(getattr(row, field.name), "name", None)
        values[field.name] = value
    return values


def everything_about(student: Student) -> bytes:
    """A ZIP: a report for each class, every file of theirs, and every row as JSON."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        about = {
            "student": student.full_name,
            "made_at": datetime.now(UTC).isoformat(timespec="seconds"),
            "tables": rows_about(student),
        }
        packed.writestr("everything.json", json.dumps(about, cls=DjangoJSONEncoder, ensure_ascii=False, indent=1))
        with in_language(student.language or student.school.language):
            packed.writestr("read me.txt", _read_me())
        for school_class in SchoolClass.objects.filter(places__student=student).distinct().order_by("pk"):
            sat = Sitting.objects.filter(school_class=school_class, seats__student=student).order_by("pk")
            try:
                report = pdf_on(school_class, student.pk, list(sat.values_list("pk", flat=True)))
            except (DomainError, Http404):
                continue  # names hidden for marking, or nothing that a report could say
            packed.writestr(f"report, class {school_class.pk}.pdf", report)
        # What a receiver returns has no type that Django knows of.
        answers: list[tuple[Any, Any]] = student_exporting.send(Student, student=student)
        files_kept: list[list[tuple[str, Path]]] = [files for _receiver, files in answers]
        for files in files_kept:
            for name, path in files:
                if here(path):
                    packed.write(path, f"files/{name}")
    return out.getvalue()


def _read_me() -> str:
    return _(
        "Everything that is kept here of one student.\n\n"
        "{report}: tests, marks, skills and what was said, with copies of the papers.\n"
        "{files}: what was handed in, and pictures of answer sheets.\n"
        "{rows}: every row of the database about this student, for another program.\n",
        report="report, class ….pdf",
        files="files",
        rows="everything.json",
    )
