"""The result of a sitting by group: each group of the class, and each of the teacher's tags, beside the others."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np
from pydantic import BaseModel

from versomark.core.language import N_, _, _n, in_figures, listed
from versomark.core.stats import known
from versomark.core.stats.means import apart, mean_share
from versomark.school.accounts.public import Teacher
from versomark.school.classes.public import Group, Tag
from versomark.school.delivery.public import Sitting
from versomark.school.errors import DomainError
from versomark.school.grading.public import results_in

from .skills import mastery_in, table_in

FEW = 5
"""In smaller groups a mean says little (common practice, no source)."""


class GroupMean(BaseModel):
    """A group and what it earned of the marks."""

    key: str
    name: str
    made_from: str
    """The finding it came from; empty for a group of the teacher's own."""
    students: list[int]
    """Of those with a total."""
    without: list[str]
    """Names of those who have none."""
    mean: float | None
    low: float | None
    high: float | None
    others: float | None
    """The mean of everybody else; None where there is nobody."""
    difference: float | None
    difference_low: float | None
    difference_high: float | None
    sure: bool
    """Whether chance alone would hardly bring the difference."""
    few: bool
    skills: list[float | None]
    """Share of the marks of each skill."""


class GroupedStudent(BaseModel):
    student: int
    name: str
    total: float
    of: float
    share: float


class ByGroup(BaseModel):
    title: str
    class_id: int
    class_name: str
    opening: str
    groups: list[GroupMean]
    """Highest mean first."""
    skills: list[str]
    of_class: list[float | None]
    """Share of each skill's marks, of everybody."""
    mean: float | None
    low: float | None
    high: float | None
    students: list[GroupedStudent]
    """Everybody with a total, highest first."""


class _Group(NamedTuple):
    key: str
    name: str
    made_from: str
    students: set[int]


def by_group(teacher: Teacher, sitting: Sitting) -> ByGroup:
    """Totals as they stand, lateness and what was set by hand included; skills as they were answered."""
    table, seats = table_in(sitting)
    mastery = mastery_in(table)
    results = [result for result in results_in(sitting) if result.total is not None and result.of > 0]
    names = {result.seat.student_id: result.seat.student.short_name for result in results_in(sitting)}
    shares = {result.seat.student_id: (result.total or 0.0) / result.of for result in results}
    rows = np.array([seat.student_id for seat in seats])
    groups = []
    for group in groups_in(teacher, sitting, set(names)):
        inside = np.array([student in group.students for student in rows])
        with np.errstate(divide="ignore", invalid="ignore"):
            skills = mastery.earned[inside].sum(axis=0) / mastery.marks[inside].sum(axis=0)
        groups.append(_mean(group, shares, names, [known(share) for share in skills]))
    groups.sort(key=lambda group: -1.0 if group.mean is None else group.mean, reverse=True)
    whole = mean_share(list(shares.values())) if shares else None
    return ByGroup(
        title=sitting.edition.read().title,
        class_id=sitting.school_class_id,
        class_name=sitting.school_class.name,
        opening=_opening(groups),
        groups=groups,
        skills=list(mastery.skills),
        of_class=[known(share) for share in mastery.class_share],
        mean=whole.mean if whole else None,
        low=whole.low if whole else None,
        high=whole.high if whole else None,
        students=sorted(
            (
                GroupedStudent(
                    student=result.seat.student_id,
                    name=result.seat.student.short_name,
                    total=result.total or 0.0,
                    of=result.of,
                    share=shares[result.seat.student_id],
                )
                for result in results
            ),
            key=lambda grouped_student: -grouped_student.share,
        ),
    )


def groups_in(teacher: Teacher, sitting: Sitting, here: set[int]) -> Iterator[_Group]:
    """Of the class, and the tags of whoever asks; those that have somebody who has a seat."""
    for group in Group.objects.filter(school_class=sitting.school_class).prefetch_related("students"):
        students = {student.pk for student in group.students.all()} & here
        if students:
            yield _Group(f"group:{group.pk}", group.name, group.made_from, students)
    for tag in Tag.objects.filter(owner=teacher).prefetch_related("students"):
        students = {student.pk for student in tag.students.all()} & here
        if students:
            yield _Group(f"tag:{tag.pk}", tag.name, "", students)


def _mean(group: _Group, shares: dict[int, float], names: dict[int, str], skills: Sequence[float | None]) -> GroupMean:
    own = [share for student, share in shares.items() if student in group.students]
    rest = [share for student, share in shares.items() if student not in group.students]
    mean = mean_share(own) if own else None
    difference = apart(own, rest) if own and rest else None
    return GroupMean(
        key=group.key,
        name=group.name,
        made_from=group.made_from,
        students=[student for student in shares if student in group.students],
        without=[names[student] for student in names if student in group.students and student not in shares],
        mean=mean.mean if mean else None,
        low=mean.low if mean else None,
        high=mean.high if mean else None,
        others=sum(rest) / len(rest) if rest else None,
        difference=difference.difference if difference else None,
        difference_low=difference.low if difference else None,
        difference_high=difference.high if difference else None,
        sure=difference.sure if difference else False,
        few=len(own) < FEW,
        skills=list(skills),
    )


def _opening(groups: Sequence[GroupMean]) -> str:
    """The sentences that matter, for a teacher."""
    if not groups:
        raise DomainError(_("This class has no group, and none of its students carries a tag."))
    means = [group for group in groups if group.mean is not None]
    if not means:
        return _("Nobody of these groups has a total yet.")
    sentences = []
    for group in means:
        if group.sure and not group.few:
            template = N_("“{name}” has clearly less than the others: {mean}, they {others}.")
            if (group.difference or 0) > 0:
                template = N_("“{name}” has clearly more than the others: {mean}, they {others}.")
            sentences.append(
                _(
                    template,
                    name=group.name,
                    mean=in_figures(group.mean, ".0%"),
                    others=in_figures(group.others, ".0%"),
                )
            )
    if not sentences:
        best, least = means[0], means[-1]
        if best is least:
            sentences.append(_("“{name}” has {mean} of the marks.", name=best.name, mean=in_figures(best.mean, ".0%")))
        else:
            sentences.append(
                _(
                    "“{name}” has most, {mean} of the marks, “{name_2}” least, {mean_2}.",
                    name=best.name,
                    mean=in_figures(best.mean, ".0%"),
                    name_2=least.name,
                    mean_2=in_figures(least.mean, ".0%"),
                )
            )
        sentences.append(_("Groups of this size differ by as much through chance alone."))
    few = [f"“{group.name}”" for group in means if group.few]
    if few:
        sentences.append(
            _n(
                "{groups} has fewer than {few} students: nothing there is certain.",
                "{groups} have fewer than {few} students: nothing there is certain.",
                len(few),
                groups=listed(few),
                few=FEW,
            )
        )
    return " ".join(sentences)
