"""Personal feedback sheets: a student's skills in words, and for each that is not secure a question to ask again."""

from collections.abc import Sequence
from typing import NamedTuple
from uuid import UUID

from versomark.core.language import N_, _
from versomark.core.scoring import Band
from versomark.core.stats.intervals import wilson
from versomark.core.stats.mastery import Mastery
from versomark.core.text import marks_text, plain
from versomark.school.accounts.public import Teacher
from versomark.school.bank.public import Item, ItemFilter, find_items, items_of
from versomark.school.delivery.public import Seat, Sitting
from versomark.school.errors import DomainError, NotFound
from versomark.school.grading.public import results_in

from .models import FeedbackSheet
from .skills import Cuts, mastery_in, table_in

INTRO = N_("Here is what your answers show, skill by skill, and what to work on next. Show me when you have.")
CLOSING = ""
MOST_CHOICES = 8
GUESSED_OF = 2
SIGNS: dict[Band, str] = {"secure": "●", "nearly": "◐", "not yet": "○"}


class FollowUp(NamedTuple):
    """A skill, the question to ask of it, and others that could be."""

    skill: str
    chosen: Item | None
    choices: Sequence[Item]

    def to_ask(self) -> list[Item]:
        """The question; with a second one where the answer to the first may be a guess and the bank has another."""
        if self.chosen is None:
            return []
        others = [item for item in self.choices if item.pk != self.chosen.pk] if is_guessable(self.chosen) else []
        others.sort(key=is_guessable)
        return [self.chosen, *others[:1]]


def is_guessable(item: Item) -> bool:
    """Whether one of two answers is right, so that half of those who know nothing have it."""
    return item.read().guessed_of == GUESSED_OF


class SheetSkill(NamedTuple):
    name: str
    band: Band | None
    sign: str
    words: str
    """What was earned, as far as marks are shown."""
    again: list[str]
    """Questions of the test, as printed, in which marks of this skill were lost."""


class Sheet(NamedTuple):
    """One student's."""

    seat: Seat
    total: str
    waiting: int
    """Answers that nobody has marked yet; they are in nothing that stands here."""
    skills: list[SheetSkill]
    ask: list[tuple[str, Item]]
    """Skill and question, of those that are nearly there or not yet."""
    is_praised: bool
    """Whether the evidence carries it: every skill that the test asks for is secure, each on marks enough to say so, no
    answer waits for its mark, and the interval of the whole does not reach down to what is not secure."""


def settings_of(sitting: Sitting) -> FeedbackSheet:
    """What was kept, or what it begins with."""
    return FeedbackSheet.objects.filter(sitting=sitting).first() or FeedbackSheet(
        sitting=sitting, intro=_(INTRO), closing=CLOSING
    )


def keep_settings(teacher: Teacher, sitting: Sitting, feedback_sheet: FeedbackSheet) -> None:
    """Questions come from the teacher's own bank; what a colleague chose before may stay."""
    if not 0 < feedback_sheet.nearly < feedback_sheet.secure <= 100:
        raise DomainError(_("A skill is nearly there from a share above 0, and secure from a larger one."), status=422)
    before = FeedbackSheet.objects.filter(sitting=sitting).first()
    chosen = {item for item in feedback_sheet.follow_ups.values() if item} - set(
        before.follow_ups.values() if before else ()
    )
    if items_of(teacher).filter(pk__in=chosen).count() < len(chosen):
        raise NotFound(_("question"))
    feedback_sheet.pk = before.pk if before else None
    feedback_sheet.save()


def follow_ups(
    teacher: Teacher, sitting: Sitting, feedback_sheet: FeedbackSheet, skills: Sequence[str]
) -> list[FollowUp]:
    """For each skill the question that was chosen; until one is, the newest of the bank that the test does not have."""
    asked = [UUID(item.ref) for item in sitting.edition.read().items() if item.content.in_bank]
    follow_ups = []
    for skill in skills:
        fits = find_items(teacher, ItemFilter(skill=skill, besides=asked)).filter(ready=True)
        choices = [item for item in fits[: 3 * MOST_CHOICES] if skill in {skill.name for skill in item.skills.all()}]
        choices = choices[:MOST_CHOICES]
        chosen_ref: str | None = feedback_sheet.follow_ups.get(skill)
        chosen = (
            next(iter(choices), None)
            if chosen_ref is None
            else (Item.objects.filter(pk=chosen_ref).first() if chosen_ref else None)
        )
        if chosen is not None and chosen not in choices:
            choices = [chosen, *choices]
        follow_ups.append(FollowUp(skill, chosen, choices))
    return follow_ups


def sheets(teacher: Teacher, sitting: Sitting, only: int | None = None) -> tuple[list[Sheet], list[FollowUp]]:
    """In desk order; the questions asked of anybody come with them, for the teacher's own page."""
    table, seats = table_in(sitting)
    mastery, settings = mastery_in(table), settings_of(sitting)
    asks = {entry.skill: entry for entry in follow_ups(teacher, sitting, settings, mastery.skills)}
    cuts = (settings.secure / 100, settings.nearly / 100)
    results = {result.seat.pk: result for result in results_in(sitting)}
    edition = sitting.edition.read()
    forms = {form: edition.in_form(form).items() for form in {seat.form for seat in seats}}
    # A question goes by the number it had on the student's own paper.
    labels = {
        form: {item.ref: item.content.own_label or str(number) for number, item in enumerate(items, start=1)}
        for form, items in forms.items()
    }
    feedback_sheets = []
    for i, seat in enumerate(seats):
        if only is not None and seat.pk != only:
            continue
        lost = [
            (labels[seat.form][item.id], item.skills)
            for j, item in enumerate(table.items)
            if table.taken[i, j] and table.scored[i, j] < table.maxima[j]
        ]
        skills = _skills(mastery, i, cuts, settings.marks, lost)
        weak = [skill.name for skill in skills if skill.band in ("nearly", "not yet")]
        ask = [(name, item) for name in weak for item in asks[name].to_ask()]
        result = results.get(seat.pk)
        total = (
            _(
                "{total} of {of} marks",
                total=marks_text(result.total),
                of=marks_text(result.of or 0),
            )
            if settings.marks and result is not None and result.total is not None
            else ""
        )
        waiting = result.waiting if result else 0
        low = float(wilson(table.totals[i], table.due[i])[0]) if table.due[i] > 0 else 0.0
        praised = bool(skills) and all(skill.band == "secure" for skill in skills) and not waiting and low >= cuts[1]
        feedback_sheets.append(Sheet(seat, total, waiting, skills, ask, praised))
    if not feedback_sheets:
        raise NotFound(_("student"))
    used = {skill for sheet in feedback_sheets for skill, _ in sheet.ask}
    asked = [FollowUp(skill, item, ()) for skill, ask in asks.items() if skill in used for item in ask.to_ask()]
    return feedback_sheets, asked


def _skills(
    mastery: Mastery, student: int, cuts: Cuts, marks: bool, lost: Sequence[tuple[str, Sequence[str]]]
) -> list[SheetSkill]:
    sentences = []
    for at, name in enumerate(mastery.skills):
        if mastery.marks[student, at] <= 0:
            continue
        band = mastery.band(student, at, cuts)
        earned = (
            _(
                "{marks} of {of}",
                marks=marks_text(mastery.earned[student, at]),
                of=marks_text(mastery.marks[student, at]),
            )
            if marks
            else ""
        )
        again = sorted((label for label, skills in lost if name in skills), key=_as_numbered)
        sentences.append(SheetSkill(name, band, SIGNS[band] if band else "–", earned, again))
    return sentences


def _as_numbered(label: str) -> tuple[int, str]:
    """7 before 11, and names of a test's own after the numbers."""
    return (int(label), "") if label.isdecimal() else (10_000, label)


def stem_of(item: Item) -> str:
    return plain(item.read().stem)
