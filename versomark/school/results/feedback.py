"""Personal feedback sheets: a student's skills in words, and for each that is not secure a question to ask again."""

from collections.abc import Sequence
from typing import NamedTuple
from uuid import UUID

from versomark.core.scoring import Band
from versomark.core.stats.mastery import Mastery
from versomark.core.text import plain
from versomark.school.accounts.models import Teacher
from versomark.school.bank.models import Item
from versomark.school.bank.services import Wanted, find_items, items_of
from versomark.school.problems import NotFound, NotPossible
from versomark.school.sittings.models import Seat, Sitting

from .models import FeedbackSheet
from .skills import Cuts, mastery_in, table_in
from .totals import results_in

INTRO = "Here is what your answers show, skill by skill. The questions below are for you: work on them, and show me."
CLOSING = ""
MOST_CHOICES = 8
SIGNS: dict[Band, str] = {"secure": "●", "nearly": "◐", "not yet": "○"}


class FollowUp(NamedTuple):
    """A skill, the question to ask of it, and others that could be."""

    skill: str
    chosen: Item | None
    choices: Sequence[Item]


class SheetSkill(NamedTuple):
    name: str
    band: Band | None
    sign: str
    words: str
    """What was earned, as far as marks are shown."""


class Sheet(NamedTuple):
    """One student's."""

    seat: Seat
    total: str
    skills: list[SheetSkill]
    ask: list[tuple[str, Item]]
    """Skill and question, of those that are nearly there or not yet."""


def settings_of(sitting: Sitting) -> FeedbackSheet:
    """What was kept, or what it begins with."""
    return FeedbackSheet.objects.filter(sitting=sitting).first() or FeedbackSheet(
        sitting=sitting, intro=INTRO, closing=CLOSING
    )


def keep_settings(teacher: Teacher, sitting: Sitting, kept: FeedbackSheet) -> None:
    """Questions come from the teacher's own bank; what a colleague chose before may stay."""
    if not 0 < kept.nearly < kept.secure <= 100:
        raise NotPossible("A skill is nearly there from a share above 0, and secure from a larger one.", status=422)
    before = FeedbackSheet.objects.filter(sitting=sitting).first()
    chosen = {item for item in kept.follow_ups.values() if item} - set(before.follow_ups.values() if before else ())
    if items_of(teacher).filter(pk__in=chosen).count() < len(chosen):
        raise NotFound("question")
    kept.pk = before.pk if before else None
    kept.save()


def follow_ups(teacher: Teacher, sitting: Sitting, kept: FeedbackSheet, skills: Sequence[str]) -> list[FollowUp]:
    """For each skill the question that was chosen; until one is, the newest of the bank that the test does not have."""
    asked = [UUID(item.ref) for item in sitting.edition.read().items() if item.content.in_bank]
    found = []
    for skill in skills:
        fits = find_items(teacher, Wanted(skill=skill, besides=asked)).filter(ready=True)
        choices = [item for item in fits[: 3 * MOST_CHOICES] if skill in {one.name for one in item.skills.all()}]
        choices = choices[:MOST_CHOICES]
        said: str | None = kept.follow_ups.get(skill)
        chosen = next(iter(choices), None) if said is None else (Item.objects.filter(pk=said).first() if said else None)
        if chosen is not None and chosen not in choices:
            choices = [chosen, *choices]
        found.append(FollowUp(skill, chosen, choices))
    return found


def sheets(teacher: Teacher, sitting: Sitting, only: int | None = None) -> tuple[list[Sheet], list[FollowUp]]:
    """In desk order; the questions asked of anybody come with them, for the teacher's own page."""
    table, seats = table_in(sitting)
    found, kept = mastery_in(table), settings_of(sitting)
    asks = {one.skill: one.chosen for one in follow_ups(teacher, sitting, kept, found.skills)}
    cuts = (kept.secure / 100, kept.nearly / 100)
    totals = {one.seat.pk: one for one in results_in(sitting)} if kept.marks else {}
    made = []
    for i, seat in enumerate(seats):
        if only is not None and seat.pk != only:
            continue
        skills = _skills(found, i, cuts, kept.marks)
        ask = [(one.name, item) for one in skills if one.band in ("nearly", "not yet") and (item := asks[one.name])]
        result = totals.get(seat.pk)
        total = f"{result.total:g} of {result.of:g} marks" if result and result.total is not None else ""
        made.append(Sheet(seat, total, skills, ask))
    if not made:
        raise NotFound("student")
    used = {skill for sheet in made for skill, _ in sheet.ask}
    return made, [FollowUp(skill, item, ()) for skill, item in asks.items() if item is not None and skill in used]


def _skills(found: Mastery, student: int, cuts: Cuts, marks: bool) -> list[SheetSkill]:
    said = []
    for at, name in enumerate(found.skills):
        if found.marks[student, at] <= 0:
            continue
        band = found.band(student, at, cuts)
        earned = f"{found.earned[student, at]:g} of {found.marks[student, at]:g}" if marks else ""
        said.append(SheetSkill(name, band, SIGNS[band] if band else "–", earned))
    return said


def stem_of(item: Item) -> str:
    return plain(item.read().stem)
