"""A test while it is being built: sections of questions and teaching pages, its plan, and how it will be frozen."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from versomark.core.items.base import Frozen, Marks
from versomark.core.language import _, _n, in_figures
from versomark.core.text import RichText, is_empty

from .edition import MAX_ITEMS, Ref, TeachingPage, Title

SkillName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Difficulty = Annotated[float, Field(ge=0, le=1)]


class PlacedItem(Frozen):
    """A question in its place. `marks` where the test gives it others than the bank does."""

    entry: Literal["item"] = "item"
    ref: Ref
    marks: Marks | None = None
    new_page: bool = False


class PlacedPage(Frozen):
    entry: Literal["page"] = "page"
    page: TeachingPage

    @property
    def ref(self) -> str:
        return self.page.ref


Entry = Annotated[PlacedItem | PlacedPage, Field(discriminator="entry")]


class DrawRule(Frozen):
    """So many questions of a skill, drawn when the test is frozen; difficulty is the share of right answers so far.

    A question without a history counts as any difficulty.
    """

    skill: SkillName
    count: Annotated[int, Field(ge=1, le=50)] = 1
    low: Difficulty = 0
    high: Difficulty = 1


class DraftSection(Frozen):
    ref: Ref
    title: Title = ""
    instructions: RichText = ""
    entries: Annotated[list[Entry], Field(max_length=MAX_ITEMS)] = []
    choose: Annotated[int, Field(ge=1, le=MAX_ITEMS)] | None = None
    new_page: bool = False
    draws: Annotated[list[DrawRule], Field(max_length=20)] = []

    def items(self) -> Iterator[PlacedItem]:
        yield from (entry for entry in self.entries if isinstance(entry, PlacedItem))


class PlanRow(Frozen):
    """How many marks a skill is to have."""

    skill: SkillName
    marks: Annotated[float, Field(ge=0, le=1000)] = 0


class Layout(Frozen):
    sections: Annotated[list[DraftSection], Field(min_length=1, max_length=40)]
    plan: Annotated[list[PlanRow], Field(max_length=60)] = []
    total_wanted: Annotated[float, Field(ge=0, le=2000)] | None = None
    minutes: Annotated[int, Field(ge=0, le=600)] = 0
    """Time allowed; 0 where none is set."""
    forms: Annotated[int, Field(ge=1, le=8)] = 1
    correct_for_guessing: bool = False

    def items(self) -> Iterator[PlacedItem]:
        for section in self.sections:
            yield from section.items()


def one_section(refs: list[str]) -> Layout:
    """The plainest test: these questions one after another."""
    return Layout(sections=[DraftSection(ref="1", entries=[PlacedItem(ref=ref) for ref in refs])])


def not_sayable_elsewhere(layout: Layout, marks: Mapping[str, float]) -> list[str]:
    """What of a test is not in a package of its questions, in words. marks: what each question is worth in the bank."""
    results = list[str]()
    for number, section in enumerate(layout.sections, start=1):
        name = section.title or _("section {number}", number=number)
        if not is_empty(section.instructions):
            results.append(_("the instructions of {name}", name=name))
        if section.choose is not None:
            results.append(_("that {choose} of {name} are chosen", choose=section.choose, name=name))
        if section.draws:
            results.append(_("questions drawn for {name} when the test is frozen", name=name))
        pages = sum(isinstance(entry, PlacedPage) for entry in section.entries)
        if pages:
            results.append(
                _n("{pages} teaching page of {name}", "{pages} teaching pages of {name}", pages, pages=pages, name=name)
            )
        for place, item in enumerate(section.items(), start=1):
            if item.marks is not None and item.marks != marks.get(item.ref, item.marks):
                results.append(
                    _(
                        "the {marks} marks of question {place} of {name}; it goes with {marks_2}",
                        marks=in_figures(item.marks, "g"),
                        place=place,
                        name=name,
                        marks_2=in_figures(marks[item.ref], "g"),
                    )
                )
    if layout.minutes:
        results.append(_("the {minutes} minutes it is given", minutes=layout.minutes))
    if layout.forms > 1:
        results.append(_("its {forms} forms", forms=layout.forms))
    if layout.correct_for_guessing:
        results.append(_("the correction for guessing"))
    return results
