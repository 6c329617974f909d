"""A class by skill: each student's share and band, what the class is strong in and what it lacks, groups from it."""

from collections.abc import Collection, Sequence
from typing import Literal
from uuid import UUID

import numpy as np
from pydantic import BaseModel

from versomark.core.findings.words import FEWEST_STUDENTS
from versomark.core.language import _, _n, listed
from versomark.core.response_table import ResponseTable
from versomark.core.scoring import Band, corrected_totals, score
from versomark.core.stats import known
from versomark.core.stats.mastery import TOO_LITTLE, Mastery, mastery
from versomark.school.bank.public import Material, offered
from versomark.school.classes.public import Group, keep_group, places_of
from versomark.school.delivery.public import Seat, SeatState, Sitting
from versomark.school.errors import DomainError, NotFound
from versomark.school.grading.public import names_hidden, overrides_in
from versomark.school.responses.public import responses_of
from versomark.school.room.public import not_asked

Cuts = tuple[float, float]
"""From which share of its marks a skill is secure, and from which nearly so."""


class Offered(BaseModel):
    """A material of the teacher's that helps with a skill."""

    id: UUID
    kind: str
    title: str
    note: str
    link: str
    file: str


def offered_in(sitting: Sitting, skills: Sequence[str]) -> dict[str, list[Offered]]:
    """By skill, of whoever gives the sitting."""
    return {skill: [offered_as(entry) for entry in some] for skill, some in offered(sitting.owner, skills).items()}


def offered_as(entry: Material) -> Offered:
    return Offered(id=entry.pk, kind=entry.kind, title=entry.title, note=entry.note, link=entry.link, file=entry.file)


class SkillCell(BaseModel):
    earned: float
    share: float | None
    """None where the student chose no question on it."""
    low: float | None
    high: float | None
    band: Band | None
    """None where there are too few marks to say."""


class SkillQuestion(BaseModel):
    number: int
    label: str


class SkillColumn(BaseModel):
    name: str
    marks: float
    questions: list[SkillQuestion]
    share: float
    """Of the whole class."""
    low: float
    high: float
    secure: int
    nearly: int
    not_yet: int
    enough: bool
    """Whether it has marks enough to say something of one student."""
    materials: list[Offered]
    """Of the teacher's own, what helps with it."""


class SkillStudent(BaseModel):
    seat: int
    desk: int
    name: str
    whole: float | None
    """Share of all marks; None where nothing of theirs is marked yet."""
    cells: list[SkillCell]


class ClassBySkill(BaseModel):
    title: str
    class_name: str
    opening: str
    skills: list[SkillColumn]
    """Weakest first; those with too few marks to say something of one student come last."""
    students: list[SkillStudent]
    cuts: list[float]


def table_in(sitting: Sitting) -> tuple[ResponseTable, list[Seat]]:
    """Everybody's answers that are marked, scored as they stand, with the seats in the table's order."""
    if names_hidden(sitting):
        raise DomainError(_("The names of this sitting are hidden for marking. Show them under Marking first."))
    seats = list(sitting.seats.filter(state=SeatState.HANDED_IN).select_related("student").order_by("desk"))
    if not seats:
        raise DomainError(_("Nobody has handed in yet."))
    unasked = not_asked([sitting]).get(sitting.pk, frozenset())
    responses = responses_of([seat.pk for seat in seats])
    return score(sitting.edition.read(), responses, unasked, overrides_in(sitting)), seats


def mastery_in(table: ResponseTable) -> Mastery:
    return mastery(table.scored, table.maxima, [item.skills for item in table.items])


def class_by_skill(sitting: Sitting, cuts: Cuts) -> ClassBySkill:
    table, seats = table_in(sitting)
    result = mastery_in(table)
    if not result.skills:
        raise DomainError(_("No question of this test says which skill it tests. Give them skills in the bank."))
    edition = sitting.edition.read()
    labels = {item.ref: item.content.own_label for item in edition.items()}
    totals = corrected_totals(edition, table)
    helps = offered_in(sitting, result.skills)
    few = result.of < TOO_LITTLE
    order = [int(at) for at in np.lexsort([result.class_share, few]) if result.of[at] > 0]
    bands = [[result.band(i, at, cuts) for at in order] for i in range(len(seats))]
    skills = [
        SkillColumn(
            name=result.skills[at],
            marks=float(result.of[at]),
            questions=[
                SkillQuestion(number=item.number, label=labels[item.id] or str(item.number))
                for item in table.items
                if result.skills[at] in item.skills
            ],
            share=float(result.class_share[at]),
            low=float(result.class_low[at]),
            high=float(result.class_high[at]),
            secure=sum(row[place] == "secure" for row in bands),
            nearly=sum(row[place] == "nearly" for row in bands),
            not_yet=sum(row[place] == "not yet" for row in bands),
            enough=bool(result.of[at] >= TOO_LITTLE),
            materials=helps.get(result.skills[at], []),
        )
        for place, at in enumerate(order)
    ]
    students = [
        SkillStudent(
            seat=seat.pk,
            desk=seat.desk,
            name=seat.student.short_name,
            whole=float(totals[i] / table.due[i]) if table.due[i] else None,
            cells=[
                SkillCell(
                    earned=float(result.earned[i, at]),
                    share=known(result.share[i, at]),
                    low=known(result.low[i, at]),
                    high=known(result.high[i, at]),
                    band=bands[i][place],
                )
                for place, at in enumerate(order)
            ],
        )
        for i, seat in enumerate(seats)
    ]
    return ClassBySkill(
        title=edition.title,
        class_name=sitting.school_class.name,
        opening=_opening([skill for skill in skills if skill.enough], len(seats), cuts),
        skills=skills,
        students=students,
        cuts=list(cuts),
    )


def _opening(skills: list[SkillColumn], students: int, cuts: Cuts) -> str:
    """What the class is strong in and what it lacks, in words; only where the interval says so too."""
    strong = [skill.name for skill in skills if skill.low >= cuts[1] and skill.share >= cuts[0]]
    weak = [skill.name for skill in skills if skill.high < cuts[0] and skill.share < cuts[1]]
    sentences = []
    if weak:
        sentences.append(_("What the class lacks most: {listed}.", listed=listed(weak[:3])))
    if strong:
        sentences.append(_("It is strong in {listed}.", listed=listed(strong[::-1][:3])))
    if students < FEWEST_STUDENTS:
        sentences = [
            _n(
                "{students} student is too few to say what the class lacks.",
                "{students} students are too few to say what the class lacks.",
                students,
                students=students,
            )
        ]
    elif not sentences:
        sentences.append(_("No skill stands out, neither as a strength nor as a gap."))
    needy = next((skill for skill in skills if skill.not_yet > 0), None)
    if needy is not None:
        sentences.append(
            _(
                "{not_yet} of {students} are not yet there in {name}.",
                not_yet=needy.not_yet,
                students=students,
                name=needy.name,
            )
        )
    return " ".join(sentences)


def group_by_band(
    sitting: Sitting, skill: str, bands: Collection[Literal["secure", "nearly", "not yet"]], name: str, cuts: Cuts
) -> Group:
    """A group of the class, of those who stand in these bands of a skill."""
    page = class_by_skill(sitting, cuts)
    place = next((at for at, column in enumerate(page.skills) if column.name == skill), None)
    if place is None:
        raise NotFound(_("skill"))
    seats = [student.seat for student in page.students if student.cells[place].band in bands]
    here = places_of(sitting.school_class).values("student_id")
    students = list(sitting.seats.filter(pk__in=seats, student__in=here).values_list("student_id", flat=True))
    if not students:
        raise DomainError(_("Nobody is there, so there is nobody to put together."))
    title = sitting.edition.read().title
    return keep_group(sitting.school_class, name, students, made_from=f"{title}, {skill}: {', '.join(sorted(bands))}")
