"""A test given and marked elsewhere, described rather than built: its questions in groups, each with one mark.

A group is what one mark is entered for: a question, a part of one, or several together, labelled as the paper has them.
"""

from collections import Counter
from typing import Annotated

from pydantic import Field

from versomark.core.items.base import Frozen, Words
from versomark.core.items.marks_only import MarksOnly
from versomark.core.language import _, in_figures

from .edition import MAX_ITEMS, Edition, EditionItem, Ref, Section
from .layout import SkillName

MOST_MARKS = 100


class ExternalGroup(Frozen):
    """One column of marks. Unfinished while its label is empty or `marks` is None."""

    ref: Ref
    label: Words = ""
    marks: Annotated[float, Field(ge=0.5, le=MOST_MARKS, multiple_of=0.5)] | None = None
    about: Words = ""
    skills: Annotated[list[SkillName], Field(max_length=12)] = []
    follow_up: Words = ""

    @property
    def empty(self) -> bool:
        return not (self.label or self.marks or self.about or self.skills or self.follow_up)


class ExternalAssessment(Frozen):
    groups: Annotated[list[ExternalGroup], Field(max_length=MAX_ITEMS)] = []
    half_marks: bool = False

    @property
    def total_marks(self) -> float:
        return sum(group.marks or 0 for group in self.groups)


def description_problems(title: str, described: ExternalAssessment) -> list[str]:
    """What keeps a description from being used, in words; rows with nothing in them are passed over."""
    groups = [group for group in described.groups if not group.empty]
    problems = [] if title.strip() else [_("The test has no title yet.")]
    if not groups:
        problems.append(_("No question is described yet."))
    for place, group in enumerate(groups, start=1):
        name = group.label or _("Line {place}", place=place)
        if not group.label:
            problems.append(_("Line {place} has no label.", place=place))
        if group.marks is None:
            problems.append(_("{name} has no maximum.", name=name))
        elif not described.half_marks and not group.marks.is_integer():
            problems.append(
                _(
                    "{name} has a maximum of {marks}, but half marks are not given in this test.",
                    name=name,
                    marks=in_figures(group.marks, "g"),
                )
            )
    twice = [label for label, count in Counter(group.label for group in groups if group.label).items() if count > 1]
    problems += [_("Two lines are called {label}.", label=label) for label in twice]
    if len({group.ref for group in groups}) != len(groups):
        problems.append(_("Two lines have the same reference."))
    return problems


def edition_described(title: str, described: ExternalAssessment) -> Edition:
    """The edition of a description without problems. References stay, so marks stay with their lines."""
    items = [
        EditionItem(
            ref=group.ref,
            content=MarksOnly(
                label=group.label,
                stem=group.about,
                marks=group.marks or 1,
                half_marks=described.half_marks,
                follow_up=group.follow_up,
            ),
            skills=list(group.skills),
        )
        for group in described.groups
        if not group.empty
    ]
    return Edition(title=title, sections=[Section(items=items)])


def is_described(edition: Edition) -> bool:
    """Whether marks are all there is: the test was given elsewhere."""
    return all(isinstance(item.content, MarksOnly) for item in edition.items())
