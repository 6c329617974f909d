"""An edition: a test frozen for use. It carries everything a sitting needs and never changes."""

from collections.abc import Collection, Iterator, Mapping
from hashlib import sha256
from typing import Annotated

from pydantic import Field, StringConstraints

from versomark.core.items import EditionContent, StudentItem
from versomark.core.items.base import Frozen
from versomark.core.language import ENGLISH
from versomark.core.text import RichText

Title = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]
Ref = Annotated[str, StringConstraints(pattern=r"^[0-9a-f-]{1,36}$")]
MAX_ITEMS = 300


class Stimulus(Frozen):
    """A passage, picture or table that several items share and that stays beside them."""

    ref: Ref
    title: Title = ""
    body: RichText = ""


class TeachingPage(Frozen):
    """A page to teach from, between the questions of a lesson."""

    ref: Ref
    title: Title = ""
    body: RichText = ""


class EditionItem(Frozen):
    ref: Ref
    content: EditionContent
    skills: list[str] = []
    stimulus: Ref | None = None
    new_page: bool = False


class PagesBefore(Frozen):
    """Teaching pages that stand before the item at this place of the section; after the last item at its length."""

    at: Annotated[int, Field(ge=0)]
    pages: list[TeachingPage]


class Section(Frozen):
    title: Title = ""
    instructions: RichText = ""
    items: list[EditionItem]
    choose: Annotated[int, Field(ge=1)] | None = None
    """How many of the items a student answers; None where all are compulsory."""
    new_page: bool = False
    pages: list[PagesBefore] = []

    @property
    def marks(self) -> float:
        return self.marks_without(())

    def marks_without(self, refs: Collection[Ref]) -> float:
        each = [item.content.marks for item in self.items if item.ref not in refs]
        # Where a student chooses, the items are worth the same: a check before freezing sees to it.
        return sum(sorted(each, reverse=True)[: self.choose])


class Form(Frozen):
    """One order of the items and of their options. Section by section, refs; for each shuffled item, the ids."""

    name: Annotated[str, StringConstraints(pattern=r"^[A-H]$")]
    sections: list[list[Ref]]
    parts: dict[Ref, list[str]] = {}


class Edition(Frozen):
    title: Title
    instructions: RichText = ""
    sections: list[Section]
    stimuli: list[Stimulus] = []
    forms: list[Form] = []
    """Orders besides the one built, which is form A; empty where there is one form only."""
    correct_for_guessing: bool = False
    minutes: Annotated[int, Field(ge=0, le=600)] = 0
    """The working time it is planned for; 0 where none is set. A sitting offers it and may have another."""
    language: str = ENGLISH
    """In which it is written and printed."""
    seed: int = 0
    """What drawn sections and varied numbers were drawn with."""

    def items(self) -> Iterator[EditionItem]:
        """Items in printed order, over all sections; an item's number is its place here, from 1."""
        for section in self.sections:
            yield from section.items

    @property
    def total_marks(self) -> float:
        return self.marks_without(())

    def marks_without(self, refs: Collection[Ref]) -> float:
        """Full marks where some of the items do not count."""
        return sum(section.marks_without(refs) for section in self.sections)

    @property
    def form_names(self) -> list[str]:
        return ["A", *(form.name for form in self.forms)]

    def stimulus_of(self, item: EditionItem) -> Stimulus | None:
        return next((stimulus for stimulus in self.stimuli if stimulus.ref == item.stimulus), None)

    def fingerprint(self) -> str:
        """A hash of the whole content, so that anything derived from an edition can be cached by it."""
        # Editions of before a test had a language were English, and keep their fingerprint.
        without = {"language"} if self.language == ENGLISH else None
        return sha256(self.model_dump_json(exclude=without).encode()).hexdigest()

    def in_form(self, name: str) -> "Edition":
        """The edition as a form orders it; as it was built for A. Refs and ids stay, so keys follow by themselves."""
        form = next((form for form in self.forms if form.name == name), None)
        if form is None:
            return self
        sections = [
            section.model_copy(update={"items": _reordered(section, order, form.parts)})
            for section, order in zip(self.sections, form.sections, strict=True)
        ]
        return self.model_copy(update={"sections": sections, "forms": []})


def _reordered(section: Section, order: list[Ref], parts: Mapping[Ref, list[str]]) -> list[EditionItem]:
    by_ref = {item.ref: item for item in section.items}
    return [
        by_ref[ref].model_copy(update={"content": by_ref[ref].content.in_order(parts[ref])})
        if ref in parts
        else by_ref[ref]
        for ref in order
    ]


class PaperItem(Frozen):
    """One numbered question on a student's paper."""

    ref: Ref
    number: int
    section: int
    item: StudentItem
    stimulus: Ref | None = None


class PaperSection(Frozen):
    """A section as its heading says it. `first` and `last` are question numbers; last < first where it has none."""

    title: Title
    instructions: RichText
    marks: float
    choose: int | None
    first: int
    last: int


class PaperPages(Frozen):
    """Teaching pages before the question of this number; one past the last number stands at the end."""

    before: int
    pages: list[TeachingPage]


class StudentPaper(Frozen):
    """An edition as a student may see it: built from what may be shown, not by taking away what may not."""

    title: Title
    instructions: RichText
    total_marks: float
    sections: list[PaperSection]
    items: Annotated[list[PaperItem], Field(max_length=MAX_ITEMS)]
    stimuli: list[Stimulus]
    pages: list[PaperPages]


def student_paper(edition: Edition, form: str = "A") -> StudentPaper:
    """What students receive of an edition in a form."""
    edition = edition.in_form(form)
    sections, items, pages, number = list[PaperSection](), list[PaperItem](), list[PaperPages](), 1
    for at, section in enumerate(edition.sections):
        sections.append(
            PaperSection(
                title=section.title,
                instructions=section.instructions,
                marks=section.marks,
                choose=section.choose,
                first=number,
                last=number + len(section.items) - 1,
            )
        )
        pages += [PaperPages(before=number + group.at, pages=group.pages) for group in section.pages]
        for item in section.items:
            shown = item.content.for_student()
            items.append(PaperItem(ref=item.ref, number=number, section=at, item=shown, stimulus=item.stimulus))
            number += 1
    return StudentPaper(
        title=edition.title,
        instructions=edition.instructions,
        total_marks=edition.total_marks,
        sections=sections,
        items=items,
        stimuli=edition.stimuli,
        pages=pages,
    )
