"""The feedback sheets of a class as one file: to hand out, or to change a word in before."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, Literal, NamedTuple
from uuid import UUID

from django.template.loader import render_to_string

from versomark.core.language import _n, in_language, listed
from versomark.core.scoring import ScoringOverrides
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Item
from versomark.school.delivery.public import Sitting
from versomark.school.editions.public import parts_to_pdf
from versomark.school.grading.public import overrides_in, with_pictures

from .marked_work import MarkedAnswer, marked_work
from .services import Sheet, is_guessable, settings_of, sheets
from .skills import offered_in

Form = Literal["pdf", "docx"]
AT_ONCE = 8
"""Sheets laid out between two words of how far it is; each beginning costs a fifth of a second."""


class Step(NamedTuple):
    """So many of so many sheets are written; the file comes with the last."""

    done: int
    of: int
    file: bytes | None = None


def feedback_file(teacher: Teacher, sitting: Sitting, only: int | None = None, form: Form = "pdf") -> bytes:
    """A sheet a student; behind those of a whole class a page with all questions and their answers."""
    return next(step.file for step in written(teacher, sitting, only, form) if step.file is not None)


def written(teacher: Teacher, sitting: Sitting, only: int | None = None, form: Form = "pdf") -> Iterator[Step]:
    """The same, saying how far it is. Everything is read from the database before the first word."""
    with in_language(sitting.edition.read().language):
        feedback_sheets, asked = sheets(teacher, sitting, only)
        context = _about(sitting, feedback_sheets)
        drawn_on = with_pictures(sitting) if context["kept"].work and form == "pdf" else set()
        judged = overrides_in(sitting) if drawn_on else ScoringOverrides()
        work = {
            entry.seat.pk: marked_work(entry.seat, judged, context["kept"].marks)
            for entry in feedback_sheets
            if entry.seat.pk in drawn_on
        }
        parts = [
            {**context, "sheets": [_sheet(entry, context["helps"], work.get(entry.seat.pk, [])) for entry in some]}
            for some in _batches(feedback_sheets)
        ]
        if only is None and asked:
            answers = _printed([(entry.skill, entry.chosen) for entry in asked if entry.chosen])
            parts.append({**context, "sheets": [], "asked": answers})
    return _steps(parts, form, len(feedback_sheets))


def _steps(parts: Sequence[Mapping[str, Any]], form: Form, of: int) -> Iterator[Step]:
    yield Step(0, of)
    if form == "docx":
        from versomark.school.editions.public import html_to_docx

        whole = {
            **parts[0],
            "sheets": [sheet for part in parts for sheet in part["sheets"]],
            "asked": parts[-1]["asked"],
        }
        yield Step(of, of, html_to_docx(_page(whole)))
        return
    done = 0
    pages = (_page(part) for part in parts)
    for at, file in enumerate(parts_to_pdf(pages)):
        done += len(parts[at]["sheets"]) if at < len(parts) else 0
        yield Step(done, of, file)


def _page(part: Mapping[str, Any]) -> str:
    """In the language of the test: what is asked again stands in it."""
    with in_language(part["edition"].language):
        return render_to_string("feedback/feedback.html", dict(part))


def _batches(feedback_sheets: Sequence[Sheet]) -> Iterator[Sequence[Sheet]]:
    return (feedback_sheets[at : at + AT_ONCE] for at in range(0, len(feedback_sheets), AT_ONCE))


def _about(sitting: Sitting, feedback_sheets: Sequence[Sheet]) -> dict[str, Any]:
    return {
        "edition": sitting.edition.read(),
        "class_name": sitting.school_class.name,
        "kept": settings_of(sitting),
        "helps": offered_in(
            sitting, list(dict.fromkeys(skill.name for entry in feedback_sheets for skill in entry.skills))
        ),
        "asked": [],
        "points": 11,
        "small": ".82em",
        "foot": 8.5,
        "write": True,
    }


def _sheet(sheet: Sheet, helps: Mapping[str, Any], work: Sequence[MarkedAnswer]) -> dict[str, Any]:
    weak = [skill.name for skill in sheet.skills if skill.band in ("nearly", "not yet")]
    unknown = [skill.name for skill in sheet.skills if skill.band is None]
    secure = [skill.name for skill in sheet.skills if skill.band == "secure"]
    return {
        "student": sheet.seat.student.full_name,
        "total": sheet.total,
        "waiting": sheet.waiting,
        "skills": sheet.skills,
        "steps": [
            (skill.name, _questions(skill.again)) for skill in sheet.skills if skill.band != "secure" and skill.again
        ],
        "is_praised": sheet.is_praised,
        "secure": listed(secure) if not weak and not sheet.is_praised else "",
        "unknown": listed(unknown) if not weak else "",
        "ask": _printed(sheet.ask),
        "work": work,
        "helps": [(name, helps[name]) for name in weak if name in helps],
    }


def _questions(labels: list[str]) -> str:
    return _n("question {listed}", "questions {listed}", len(labels), listed=listed(labels))


def _printed(ask: Sequence[tuple[str, Item]]) -> list[Mapping[str, Any]]:
    """Each question once, with the skills it is asked for."""
    skills: dict[UUID, list[str]] = {}
    items: dict[UUID, Item] = {}
    for skill, item in ask:
        skills.setdefault(item.pk, []).append(skill)
        items[item.pk] = item
    results = list[Mapping[str, Any]]()
    for number, (pk, item) in enumerate(items.items(), start=1):
        content = item.read()
        results.append(
            {
                "number": number,
                "skills": ", ".join(skills[pk]),
                "is_guessable": is_guessable(item),
                "item": content.for_student(),
                "content": content,
                "template": f"paper/kinds/{content.kind}.html",
                "stimulus": item.stimulus,
            }
        )
    return results
